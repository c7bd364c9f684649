import { LIST_COLUMNS, SENT_WITH, SHOWN, SORT_DIRECTIONS, type ListFilter, type Shown } from '../contract/list.js';
import { HOURS_OF_WEEK } from '../time/hourOfWeek.js';
import { readPeriod } from '../time/period.js';

/** What the list shows, as its address says it: the filter, with the period by its name. */
export interface ListView extends Omit<ListFilter, 'from' | 'to' | 'zone'> {
  sent: string;
}

export const DEFAULT_VIEW: ListView = {
  show: 'all',
  sent: '',
  person: null,
  template: null,
  file: null,
  round: null,
  subject: '',
  company: '',
  domain: '',
  link: '',
  noted: false,
  archived: false,
  sentWith: '',
  workingDays: false,
  firstOpenHour: null,
  words: '',
  sort: 'lastActivity',
  direction: 'desc',
};

/** What is looked for every day: it can be chosen in one press, and shows how many there are. */
export const QUICK_CHOICES = [
  'all',
  'no-sign',
  'not-replied',
  'replied',
  'attention',
] as const satisfies readonly Shown[];
export type QuickChoice = (typeof QUICK_CHOICES)[number];

/** What shows no sign after a week: the list behind the number that Today gives. */
export const NO_SIGN_VIEW: ListView = { ...DEFAULT_VIEW, show: 'no-sign', sent: 'over-week-ago', sort: 'sent' };

/** Views that are there without anybody having saved them. */
export const BUILT_IN_VIEWS: readonly { name: string; view: ListView }[] = [
  { name: 'Last month’s unopened', view: { ...DEFAULT_VIEW, show: 'no-sign', sent: 'last-month' } },
];

type Reader = (text: string) => unknown;
const asText: Reader = (text) => text;
const asFlag: Reader = (text) => text === 'true';
const asNumber: Reader = (text) => (/^\d{1,15}$/.test(text) ? Number(text) : null);
const asOneOf =
  (values: readonly string[]): Reader =>
  (text) =>
    values.includes(text) ? text : values[0];

const READERS: Record<keyof ListView, Reader> = {
  show: asOneOf(SHOWN),
  sent: (text) => (readPeriod(text, 0) ? text : ''),
  person: asNumber,
  template: asNumber,
  file: asNumber,
  round: asNumber,
  subject: asText,
  company: asText,
  domain: asText,
  link: asText,
  noted: asFlag,
  archived: (text) => (text === 'any' ? text : asFlag(text)),
  sentWith: asOneOf(SENT_WITH),
  workingDays: asFlag,
  firstOpenHour: (text) => (/^\d{1,3}$/.test(text) && Number(text) < HOURS_OF_WEEK ? Number(text) : null),
  words: asText,
  sort: asOneOf(LIST_COLUMNS),
  direction: asOneOf(SORT_DIRECTIONS),
};

/** Reads what an address says. What it does not name, or cannot be read, is as in the view that the page begins with. */
export function viewFrom(entries: Iterable<[string, string]>, first: ListView = DEFAULT_VIEW): ListView {
  const view: Record<string, unknown> = { ...first };
  for (const [name, text] of entries)
    if (Object.hasOwn(READERS, name)) view[name] = READERS[name as keyof ListView](text);
  return view as unknown as ListView;
}

/** What an address must say for a view: only what is not as in the view that the page begins with. */
export function entriesOf(view: ListView, first: ListView = DEFAULT_VIEW): [string, string][] {
  return Object.entries(view)
    .filter(([name, value]) => value !== first[name as keyof ListView])
    .map(([name, value]) => [name, String(value)]);
}

/**
 * The filter that the server is asked for.
 *
 * @param now epoch milliseconds, for periods like “today”
 * @param zone IANA name of the user’s zone
 */
export function filterOf({ sent, ...view }: ListView, now: number, zone: string): ListFilter {
  const { from, to } = readPeriod(sent, now) ?? { from: null, to: null };
  return { ...view, from, to, zone };
}
