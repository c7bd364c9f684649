import type { ReadingTimes } from './readingTimes.js';

/** How far back a report looks. */
export const REPORT_PERIODS = ['month', 'quarter', 'year', 'all'] as const;
export type ReportPeriod = (typeof REPORT_PERIODS)[number];

/** How many of how many, with the interval in which the true share lies with 95 per cent. */
export interface Rate {
  n: number;
  of: number;
  /** Between 0 and 1; null where there is nothing to count. */
  share: number | null;
  low: number;
  high: number;
}

/** How lengths of time spread, in milliseconds: a quarter of them is shorter than the first, half than the median. */
export interface Spread {
  n: number;
  firstQuartile: number;
  median: number;
  thirdQuartile: number;
}

/** What became of some messages. */
export interface Outcome {
  messages: number;
  /** Of those that are tracked: any sign of reading, of which a reply is one. */
  read: Rate;
  /** Of those with a tracked link. */
  clicked: Rate;
  /** Of those with a tracked file. */
  viewed: Rate;
  replied: Rate;
  /** From the sending to the first open; null where none was opened. */
  untilOpened: Spread | null;
  untilReplied: Spread | null;
}

/** How the replies to some messages compare with those to all others. */
export interface Comparison {
  /** What is replied to more of these than of the others, as a difference of shares; with its interval of 99 per cent. */
  difference: number;
  low: number;
  high: number;
}

/** One template, with what became of the messages that were begun with it. */
export interface TemplateOutcome extends Outcome {
  id: number;
  name: string;
  /** Null where there is nothing to compare with. */
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

/** What can be learnt from what was sent. */
export interface ReportView extends Outcome {
  /** Sent too lately to be counted: there was no time yet to read them. */
  tooRecent: number;
  /** When messages are first opened. */
  opening: ReadingTimes;
  /** The newest last, without gaps. */
  weeks: WeekOutcome[];
  /** The most used first. */
  templates: TemplateOutcome[];
}
