/** Why a mail is left out when earlier mail is imported. */
export const LEFT_OUT = ['other-sender', 'no-date', 'no-recipient', 'known', 'unreadable'] as const;
export type LeftOut = (typeof LEFT_OUT)[number];

/** The most that is taken in at once. */
export const HISTORY_LIMITS = { maxFiles: 200_000, maxBytes: 20_000_000_000, maxSenders: 50 } as const;

/** Somebody from whom the mails are that were found. */
export interface HistorySender {
  address: string;
  messages: number;
  people: number;
  /** Whether it seems to be the user. */
  isOwn: boolean;
}

/** What there is to import. */
export interface HistoryFound {
  /** Those with the most messages first. */
  senders: HistorySender[];
  /** Of all senders together; null where there is none. */
  firstAt: number | null;
  lastAt: number | null;
  leftOut: { why: LeftOut; count: number }[];
}

export type HistoryStep = 'none' | 'fetching' | 'looking' | 'looked' | 'importing' | 'undoing';

/** An import that was made. */
export interface HistoryImportRow {
  id: number;
  /** In epoch milliseconds. */
  at: number;
  /** Where the mails came from. */
  source: string;
  withMessages: boolean;
  messages: number;
  people: number;
}

/** How it stands with the import of mail that was sent before. */
export interface HistoryView {
  step: HistoryStep;
  /** Where the mails come from; empty for none. */
  source: string;
  /** How much of the step is done, from 0 to 1. */
  progress: number;
  found: HistoryFound | null;
  /** Why the last step failed, in words; null where it did not. */
  problem: string | null;
  /** The newest first. */
  imports: HistoryImportRow[];
}

/** What is imported of what was found. */
export interface HistoryImportRequest {
  /** Addresses of the senders whose messages they are. */
  senders: string[];
  /** Whether the messages themselves are imported too, and not the people alone. */
  withMessages: boolean;
}
