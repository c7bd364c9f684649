import type { ListFilter } from './list.js';
import type { ReadingTimes } from './readingTimes.js';

/** What a report is narrowed by: as the list, of all that was sent, archived or not. */
export type ReportFilter = Omit<ListFilter, 'show' | 'sentWith' | 'archived' | 'sort' | 'direction'>;

/** How many of how many, with the interval in which the true share lies with 95 per cent. */
export interface Rate {
  n: number;
  of: number;
  /** Between 0 and 1; null where there is nothing to count. */
  share: number | null;
  low: number;
  high: number;
}

/** What shares are given of. */
export const RATES = ['read', 'clicked', 'viewed', 'replied'] as const;
export type RateName = (typeof RATES)[number];

/** How lengths of time spread, in milliseconds: a quarter of them is shorter than the first, half than the median. */
export interface Spread {
  n: number;
  firstQuartile: number;
  median: number;
  thirdQuartile: number;
}

/**
 * What became of some messages. `read`: of those that are tracked, any sign of reading, of which a reply is one;
 * `clicked`: of those with a tracked link; `viewed`: of those with a tracked file; `replied`: of all.
 */
export interface Outcome extends Record<RateName, Rate> {
  messages: number;
  /** From the sending to the first open; null where none was opened. */
  untilOpened: Spread | null;
  untilReplied: Spread | null;
}

/** How one share compares with another. */
export interface Comparison {
  /** As a difference of shares, with its interval. */
  difference: number;
  low: number;
  high: number;
}

/** What became of messages that were worded alike. */
export type WordingOutcome = Pick<Outcome, 'messages' | 'read' | 'clicked' | 'replied'>;

/** One subject that several messages have, as it stands in them. */
export interface SubjectOutcome extends WordingOutcome {
  subject: string;
}

/** One template, with what became of the messages that were begun with it. */
export interface TemplateOutcome extends WordingOutcome {
  id: number;
  name: string;
  /** By how much more of these are replied to than of all others, with 99 per cent; null where there are none. */
  comparison: Comparison | null;
}

/** One week, from Monday. */
export interface WeekOutcome {
  /** The date of its Monday, “2026-11-23”. */
  monday: string;
  messages: number;
  read: number;
  replied: number;
}

/** The messages of as many days just before. */
export interface Before extends Outcome {
  from: number;
  to: number;
  /** By how much each share has risen since, with 95 per cent; null where there is nothing to compare. */
  changes: Record<RateName, Comparison | null>;
}

/** What can be learnt from what was sent. */
export interface ReportView extends Outcome {
  /** What was sent from this day on, and before the other, is counted; in epoch milliseconds, null for the beginning. */
  from: number | null;
  to: number;
  /** Sent too lately to be counted: there was no time yet to read them. */
  tooRecent: number;
  /** Null where the period has no beginning. */
  before: Before | null;
  /** When messages are first opened. */
  opening: ReadingTimes;
  /** The newest last, without gaps. */
  weeks: WeekOutcome[];
  /** The most used first. */
  templates: TemplateOutcome[];
}
