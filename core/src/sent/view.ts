import { LIST_ORDERS, SHOWN, type ListFilter, type ListOrder, type Shown } from '../contract/list.js';
import { readPeriod } from './period.js';

/** What the list shows, as its address says it: the filter, with the period by its name. */
export interface ListView extends Omit<ListFilter, 'from' | 'to'> {
  sent: string;
}

export const FIRST_VIEW: ListView = {
  show: 'all',
  sent: '',
  person: null,
  template: null,
  firm: '',
  domain: '',
  link: '',
  noted: false,
  archived: false,
  words: '',
  order: 'latest',
  rising: false,
};

/** What shows no sign after a week: the list behind the number that Today gives. */
export const SILENT_VIEW: ListView = { ...FIRST_VIEW, show: 'unseen', sent: 'over-week-ago', order: 'sent' };

export const SHOWN_WORDS: Record<Shown, string> = {
  all: 'everything',
  unseen: 'what shows no sign of reading yet',
  opened: 'what was read',
  unanswered: 'what was read and not answered',
  answered: 'what was answered',
  clicked: 'what had a link followed',
  viewed: 'what had a file viewed',
  heating: 'what is being read again and again',
  bounced: 'what could not be delivered',
  untracked: 'what is not tracked',
  scheduled: 'what is to leave later',
};

export const ORDER_WORDS: Record<ListOrder, [falling: string, rising: string]> = {
  latest: ['latest happening first', 'oldest happening first'],
  sent: ['sent last first', 'sent first first'],
  opens: ['most opened first', 'least opened first'],
  clicks: ['most followed first', 'least followed first'],
  fileViews: ['most viewed first', 'least viewed first'],
  firstOpen: ['opened first last', 'opened first first'],
  lastOpen: ['opened last first', 'opened last last'],
  wait: ['longest wait for a look first', 'shortest wait for a look first'],
  answer: ['longest wait for an answer first', 'shortest wait for an answer first'],
  match: ['best match first', 'best match first'],
};

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
  firm: asText,
  domain: asText,
  link: asText,
  noted: asFlag,
  archived: asFlag,
  words: asText,
  order: asOneOf(LIST_ORDERS),
  rising: asFlag,
};

/** Reads what an address says. What it does not name, or cannot be read, is as at first. */
export function viewFrom(entries: Iterable<[string, string]>): ListView {
  const view: Record<string, unknown> = { ...FIRST_VIEW };
  for (const [name, text] of entries)
    if (Object.hasOwn(READERS, name)) view[name] = READERS[name as keyof ListView](text);
  return view as unknown as ListView;
}

/** What an address must say for a view: only what is not as at first. */
export function entriesOf(view: ListView): [string, string][] {
  return Object.entries(view)
    .filter(([name, value]) => value !== FIRST_VIEW[name as keyof ListView])
    .map(([name, value]) => [name, String(value)]);
}

/** The filter that the server is asked for. `now` in epoch milliseconds, for periods like “today”. */
export function filterOf({ sent, ...view }: ListView, now: number): ListFilter {
  const { from, to } = readPeriod(sent, now) ?? { from: null, to: null };
  return { ...view, from, to };
}
