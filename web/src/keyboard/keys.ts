import { PAGES } from '../shared/pages.js';

/** A page by its key. */
export const PAGE_KEYS = PAGES.map(({ path, label, key }) => ({ key, path, words: label }));

/** What is done with the row that has the keyboard, or with the message that is open. Buttons name theirs themselves. */
export const ACTION_KEYS = [
  { key: 'C', words: 'Call' },
  { key: 'R', words: 'Reply' },
  { key: 'L', words: 'Later, or set a reminder' },
  { key: 'D', words: 'Done' },
  { key: 'S', words: 'Select in Sent' },
] as const;

export const WRITE_KEY = 'W';
export const SEARCH_KEY = 'F';
export const HELP_KEY = '?';

/** Those that work everywhere, also where single keys are switched off. */
export const OTHER_KEYS = [
  { key: '↑ ↓', words: 'Move in a list' },
  { key: 'Enter', words: 'Open' },
  { key: 'Ctrl Enter', words: 'Send the message that is being written' },
  { key: 'F8', words: 'Go to the newest notification' },
  { key: 'Esc', words: 'Close what is open' },
] as const;
