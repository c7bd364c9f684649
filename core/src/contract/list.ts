import type { MessageSummary } from './message.js';
import type { Page } from './page.js';

/** Which messages the list shows, by where they stand. */
export const SHOWN = [
  'all',
  'no-sign',
  'opened',
  'not-replied',
  'replied',
  'clicked',
  'viewed',
  'heating',
  'bounced',
  'not-tracked',
  'scheduled',
  'attention',
] as const;
export type Shown = (typeof SHOWN)[number];

/** What the list is sorted by; `match` only where words are searched for. */
export const LIST_COLUMNS = [
  'lastActivity',
  'sent',
  'opens',
  'clicks',
  'fileViews',
  'firstOpen',
  'lastOpen',
  'timeToOpen',
  'timeToReply',
  'relevance',
] as const;
export type ListColumn = (typeof LIST_COLUMNS)[number];

/** Whether messages are looked through that were archived, all others, or both. */
export const ARCHIVED = [false, true, 'any'] as const;
export type Archived = (typeof ARCHIVED)[number];

/** What a message was sent with: any of it, opens tracked, tracked links, tracked files; any message where empty. */
export const SENT_WITH = ['', 'anything', 'opens', 'links', 'files'] as const;
export type SentWith = (typeof SENT_WITH)[number];

export const SORT_DIRECTIONS = ['desc', 'asc'] as const;
export type SortDirection = (typeof SORT_DIRECTIONS)[number];

/** Everything that narrows and sorts the list of what was sent. */
export interface ListFilter {
  show: Shown;
  /** Sent from this time on, and before the other; epoch milliseconds. */
  from: number | null;
  to: number | null;
  /** Numbers of one person, and of one template. */
  person: number | null;
  template: number | null;
  /** Number of a file of the library that went with it as a link. */
  file: number | null;
  /** Number of the round that it is a part of. */
  round: number | null;
  /** Exactly as it stands in the message; any where empty. */
  subject: string;
  company: string;
  /** The recipient’s mail domain. */
  domain: string;
  /** Words of a link that was followed. */
  link: string;
  /** Only those with a note. */
  noted: boolean;
  archived: Archived;
  sentWith: SentWith;
  /** Only those sent from Monday to Friday, by the clocks of the zone. */
  workingDays: boolean;
  /** Only those first opened within this hour of the week, from Monday’s first (0), by the clocks of the zone. */
  firstOpenHour: number | null;
  /** IANA name of the user’s zone. */
  zone: string;
  /** Searched for in people, subject, message and note. */
  words: string;
  sort: ListColumn;
  direction: SortDirection;
}

export interface MessagePage extends Page {
  messages: MessageSummary[];
  /** Where the searched words stand, by the number of the message; marked by MATCH_BEGINS and MATCH_ENDS. */
  found: Record<string, string>;
}

/** How long a list is. */
export interface ListTotals {
  /** How many there are by the filter; of very many that match words, only the newest count. */
  total: number;
  /** How many there are at all. */
  everything: number;
}

/** Of the private use area: no message contains them. */
export const MATCH_BEGINS = '\uE000';
export const MATCH_ENDS = '\uE001';

/** What can be done with several messages at once. */
export const LIST_ACTIONS = ['archive', 'unarchive', 'delete', 'restore', 'mute', 'unmute'] as const;
export type ListAction = (typeof LIST_ACTIONS)[number];
/** By what each is undone. */
export const UNDONE_BY: Readonly<Record<ListAction, ListAction>> = {
  archive: 'unarchive',
  unarchive: 'archive',
  delete: 'restore',
  restore: 'delete',
  mute: 'unmute',
  unmute: 'mute',
};

/** A filter that was given a name. */
export interface SavedView {
  id: number;
  name: string;
  /** The address’s query, without “?”. */
  query: string;
  /** What Sent begins with; at most one. */
  isStart: boolean;
}
