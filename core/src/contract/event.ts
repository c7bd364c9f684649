import type { Recipient } from './mailbox.js';

/** Everything that can happen to a message after it was sent. The names are those of the data export. */
export const EVENT_KINDS = [
  'delivered',
  'bounced',
  'opened',
  'clicked',
  'file_viewed',
  'page_viewed',
  'downloaded',
  'replied',
  'receipt',
  'opted_out',
] as const;
export type EventKind = (typeof EVENT_KINDS)[number];

/** One event as the trail draws it. `at` is UTC epoch milliseconds; `label` names the link or the file. */
export interface TrailEvent {
  eventId: number;
  at: number;
  kind: EventKind;
  counted: boolean;
  label: string | null;
  /** The page that was read, from 1, where it is about one and is asked for. */
  page?: number | null;
}

/** One event with everything that is known about it: what the history of a message shows. */
export interface EventView extends TrailEvent {
  /** The name of what it is not counted for; null when it counts. */
  reason: string | null;
  /** How likely it is a person’s, in percent, where evidence was weighed; null where a fact decides. */
  likelihood: number | null;
  /** Names of the strongest evidence for the verdict, at most two, with a comma between them; null where there is none. */
  evidence: string | null;
  messageId: number;
  /** Message-ID of the copy, with angle brackets (RFC 5322, section 3.6.4). */
  messageIdHeader: string;
  subject: string;
  copyId: number;
  recipient: Recipient;
  linkId: number | null;
  linkUrl: string | null;
  /** The mail that said so; null where none did. */
  incomingId: number | null;
  /** The file as it was sent; null where it is about none. */
  sentFileId: number | null;
  /** The page that was read, from 1. */
  page: number | null;
  /** For how long. */
  readMs: number | null;
  ip: string | null;
  userAgent: string | null;
  device: string | null;
  system: string | null;
  program: string | null;
  /** Approximately; null where it is not known, or not wanted. */
  place: string | null;
  /** The request’s method where it was not GET. */
  method: string | null;
  /** Value of Sec-Purpose or Purpose. */
  purpose: string | null;
  /** It carried the mark of a browser of the sender’s own. */
  ownDevice: boolean;
  /** Its browser asks not to be tracked. */
  dnt: boolean;
  /** Its network is a data centre’s. */
  hosted: boolean;
  /** Somebody was seen to act there: known of files alone. */
  active: boolean;
  /** Whether it notifies. */
  notifies: boolean;
  /** The sender’s own verdict; null where the rules decide. */
  override: boolean | null;
  /** How many requests it stands for. */
  times: number;
}

/** What happened in the past hour, oldest first: the band along the top of every page. */
export interface RecentEvents {
  events: EventView[];
  /** How many more there were than the band is given; 0 nearly always. */
  leftOut: number;
}
