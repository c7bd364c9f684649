import { useEffect, useRef } from 'react';
import { ACTION_KEYS, HELP_KEY, PAGE_KEYS, SEARCH_KEY, WRITE_KEY } from './keys.js';

/** A row of a list: the arrow keys go from one to the next. */
const ROW = '[data-row]';
/** Whoever is in one of these types, or chooses: single keys are theirs. */
const TYPING =
  'input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable=true], [role=combobox]';
/** What lies over the page, and has the keyboard to itself. */
const OVER_PAGE =
  '[role=dialog], [role=menu], .ant-popover:not(.ant-popover-hidden), .ant-dropdown:not(.ant-dropdown-hidden)';

export interface KeyActions {
  go(path: string): void;
  search(): void;
  help(): void;
}

/** Lets single keys do what {@link PAGE_KEYS} and the others say, while nobody types. */
export function useKeys(areOn: boolean, actions: KeyActions): void {
  const latest = useRef(actions);
  useEffect(() => {
    latest.current = actions;
  });
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey || isBusy(event.target)) return;
      const isDone = moveInList(event.key) || (areOn && act(event.key.toUpperCase(), latest.current));
      if (isDone) event.preventDefault();
    };
    document.addEventListener('keydown', press);
    return () => document.removeEventListener('keydown', press);
  }, [areOn]);
}

function isBusy(target: EventTarget | null): boolean {
  return target instanceof Element && (target.closest(TYPING) ?? target.closest(OVER_PAGE)) !== null;
}

function act(key: string, { go, search, help }: KeyActions): boolean {
  const page = PAGE_KEYS.find((one) => one.key === key);
  if (page) go(page.path);
  else if (key === WRITE_KEY) go('/write');
  else if (key === SEARCH_KEY) search();
  else if (key === HELP_KEY) help();
  else return ACTION_KEYS.some((one) => one.key === key) && pressButton(key);
  return true;
}

/** Presses the button that names the key: in the row that has the keyboard, or else on the page. */
function pressButton(key: string): boolean {
  const place = document.activeElement?.closest(ROW) ?? document.querySelector('main');
  const button = place?.querySelector<HTMLElement>(`[aria-keyshortcuts="${key}"]`);
  button?.focus();
  button?.click();
  return button !== undefined && button !== null;
}

/** Goes to the row before or after, or to the first where none has the keyboard. */
function moveInList(key: string): boolean {
  const step = { ArrowDown: 1, ArrowUp: -1 }[key];
  if (!step) return false;
  const row = document.activeElement?.closest(ROW) ?? null;
  if (!row && document.activeElement !== document.body) return false;
  const rows = [...document.querySelectorAll(ROW)];
  const next = rows[row ? rows.indexOf(row) + step : 0];
  const opener = next?.querySelector<HTMLElement>('a[href], button');
  if (!next || !opener || (!row && step < 0)) return false;
  opener.focus({ focusVisible: true } as FocusOptions);
  next.scrollIntoView({ block: 'nearest' });
  return true;
}
