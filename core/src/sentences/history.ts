import type { HistoryFound, HistoryImportRow, HistorySender, HistoryView, LeftOut } from '../contract/index.js';
import { counted, shortWords } from '../time/words.js';

/** Why mails are left out, of as many as there are. */
const LEFT_OUT_TEXTS: Record<LeftOut, (count: string) => string> = {
  'other-sender': (count) => `${count} of other senders`,
  'no-date': (count) => `${count} without a date`,
  'no-recipient': (count) => `${count} without a recipient besides the sender`,
  known: (count) => `${count} that Kiraku has already`,
  unreadable: (count) => `${count} that cannot be read`,
};

const STEP_TEXTS: Record<HistoryView['step'], string> = {
  none: '',
  fetching: 'Fetching the messages',
  looking: 'Looking through the messages',
  looked: '',
  importing: 'Importing',
  undoing: 'Undoing the import',
};

/** What is done now, and how much of it: “Importing from Sent.mbox: 42%”. Empty where nothing is. */
export function historyProgress({ step, source, progress }: HistoryView): string {
  return STEP_TEXTS[step] === '' ? '' : `${STEP_TEXTS[step]} from ${source}: ${Math.floor(progress * 100)}%`;
}

/** What was found, and what of it is left out. */
export function historyFoundSentence({ senders, firstAt, lastAt, leftOut }: HistoryFound, now: number): string {
  const all = senders.reduce((sum, { messages }) => sum + messages, 0);
  const left = leftOut.map(({ why, count }) => LEFT_OUT_TEXTS[why](String(count))).join(', ');
  const rest = left === '' ? '' : ` Left out: ${left}.`;
  if (firstAt === null || lastAt === null) return `There is nothing to import.${rest}`;
  return `${counted(all, 'message')}, from ${shortWords(firstAt, now)} to ${shortWords(lastAt, now)}.${rest}`;
}

/** What somebody sent: “412 messages to 98 people”. */
export function historySenderText({ messages, people }: HistorySender): string {
  return `${counted(messages, 'message')} to ${counted(people, 'person', 'people')}`;
}

/** What an import has brought: “Sent.mbox: 98 people, 412 messages”. */
export function historyImportText({ source, people, messages, withMessages }: HistoryImportRow): string {
  const parts = [counted(people, 'person', 'people'), ...(withMessages ? [counted(messages, 'message')] : [])];
  return `${source}: ${parts.join(', ')}`;
}
