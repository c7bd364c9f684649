import type { Archived, ListAction, ListColumn, ListTotals, SentWith, Shown, SortDirection } from '../contract/list.js';
import type { ListView, QuickChoice } from '../sent/view.js';
import { weekdayAndHour } from '../time/hourOfWeek.js';
import { counted } from '../time/words.js';
import { hourText } from './person.js';
import { joined, quoted } from './words.js';

/** What the list shows, as the noun of its sentence: “Showing *messages with a reply* …”. */
export const SHOWN_TEXTS: Record<Shown, string> = {
  all: 'all messages',
  'no-sign': 'messages with no sign of reading',
  opened: 'messages that were read',
  'not-replied': 'messages read but not replied to',
  replied: 'messages with a reply',
  clicked: 'messages with a clicked link',
  viewed: 'messages with a viewed file',
  heating: 'messages read again and again',
  bounced: 'messages that bounced',
  'not-tracked': 'messages that are not tracked',
  scheduled: 'scheduled messages',
  attention: 'messages that need attention',
};

/** What is chosen in one press, beside its number. */
export const QUICK_TEXTS: Record<QuickChoice, string> = {
  all: 'All',
  'no-sign': 'No sign yet',
  'not-replied': 'Not replied',
  replied: 'Replied',
  attention: 'Needs attention',
};

const NEWEST = { desc: 'newest first', asc: 'oldest first' };
const MOST = { desc: 'most first', asc: 'fewest first' };
const LONGEST = { desc: 'longest first', asc: 'shortest first' };

/** What a column is called in the list’s sentence, and what its two directions are called. */
export const SORT_TEXTS: Record<ListColumn, { column: string } & Record<SortDirection, string>> = {
  lastActivity: { column: 'last activity', ...NEWEST },
  sent: { column: 'time sent', ...NEWEST },
  opens: { column: 'opens', ...MOST },
  clicks: { column: 'clicks', ...MOST },
  fileViews: { column: 'file views', ...MOST },
  firstOpen: { column: 'first open', ...NEWEST },
  lastOpen: { column: 'last open', ...NEWEST },
  timeToOpen: { column: 'time to first open', ...LONGEST },
  timeToReply: { column: 'time to reply', ...LONGEST },
  relevance: { column: 'best match', desc: 'best first', asc: 'best first' },
};

/** How many messages the list shows, and how many it leaves out. */
export function totalsSentence({ total, everything }: ListTotals): string {
  return total === everything ? `${counted(total, 'message')}, none left out.` : `${total} of ${everything} messages.`;
}

/** To whom the list is narrowed. `person` is the name of the one person, where it is narrowed to one. */
export function recipientsText(
  { company, domain }: Pick<ListView, 'company' | 'domain'>,
  person: string | null,
): string {
  const parts = [person, company !== '' && `people at ${company}`, domain !== '' && `people at ${domain}`];
  return joined(parts, ', ') || 'anyone';
}

/** Whether archived messages are looked through. */
export const ARCHIVED_TEXTS: Record<`${Archived}`, string> = {
  false: 'not archived',
  true: 'archived',
  any: 'archived or not',
};

/** With what messages were sent. */
export const SENT_WITH_TEXTS: Record<SentWith, string> = {
  '': 'sent or not',
  anything: 'sent',
  opens: 'sent with opens tracked',
  links: 'sent with tracked links',
  files: 'sent with tracked files',
};

/** What else the list is narrowed to. */
export function filtersText({
  noted,
  template,
  file,
  round,
  subject,
  link,
  archived,
  sentWith,
  workingDays,
  firstOpenHour,
}: ListView): string {
  const parts = [
    archived !== false && ARCHIVED_TEXTS[`${archived}`],
    sentWith !== '' && SENT_WITH_TEXTS[sentWith],
    workingDays && 'sent on working days',
    firstOpenHour !== null && `first opened on ${hourText(weekdayAndHour(firstOpenHour))}`,
    noted && 'with a private note',
    template !== null && 'from one template',
    file !== null && 'with one of your files',
    round !== null && 'of one round',
    subject !== '' && `called ${quoted(subject)}`,
    link !== '' && `with ${quoted(link)} clicked`,
  ];
  return joined(parts, ', ') || 'no other filter';
}

/** What Today says of messages sent more than a week ago that show no sign. */
export function noSignText(total: number): string {
  return `${counted(total, 'message')} with no sign for more than a week`;
}

/** How many people Today proposes, and how many more it leaves out. */
export function proposalsSentence(shown: number, more: number): string {
  const leftOut = more > 0 ? `; ${more} less urgent left out` : '';
  return `${counted(shown + more, 'person', 'people')}, most urgent first${leftOut}`;
}

/** What was done with messages, after how many they are. */
const ACTION_TEXTS: Record<ListAction, string> = {
  archive: 'archived',
  unarchive: 'back in the list',
  mute: 'muted',
  unmute: 'unmuted',
  delete: 'deleted; links in it still work',
  restore: 'restored',
};

/** “3 messages archived”. */
export function actionDoneText(action: ListAction, count: number): string {
  return `${counted(count, 'message')} ${ACTION_TEXTS[action]}`;
}

/** How many messages of the list are selected. */
export function selectionSentence(count: number): string {
  return count === 0 ? 'Select messages in the list.' : `${counted(count, 'message')} selected.`;
}
