import type { Mailbox } from './mailbox.js';
import type { DraftContent, MessageState, MessageSummary } from './message.js';
import type { Comparison, Rate } from './report.js';

/** What one round may hold. */
export const ROUND_LIMITS = {
  /** These are individual messages: more would be advertising. */
  maxPeople: 500,
  maxWordings: 3,
  maxNameChars: 120,
  /** Columns of its sheet, and characters of one of its cells. */
  maxColumns: 40,
  maxCellChars: 1000,
  maxPerHour: 600,
  maxRecentDays: 365,
} as const;

/** `preparing`: nothing has left yet; `done`: nothing is left to send. */
export const ROUND_STATES = ['preparing', 'running', 'paused', 'stopped', 'done'] as const;
export type RoundState = (typeof ROUND_STATES)[number];

/** At once; so many an hour within hours of the recipients’ days; or each when they most likely read. */
export const PACE_KINDS = ['at-once', 'hourly', 'best-time'] as const;

/** When the messages of a round leave. Hours and weekdays by the clocks of each recipient. */
export interface RoundPace {
  kind: (typeof PACE_KINDS)[number];
  perHour: number;
  /** From this hour of the day up to another, 0 to 24. */
  fromHour: number;
  toHour: number;
  /** From Monday (0). */
  weekdays: number[];
  /** By whose clocks (IANA) where those of a recipient are not known. */
  zone: string;
}

/** One of the texts that are compared. */
export type Wording = Pick<DraftContent, 'subject' | 'html'>;

/** What all messages of a round have besides their wording. */
export type RoundContent = Pick<
  DraftContent,
  'trackOpens' | 'trackClicks' | 'disclose' | 'note' | 'templateId' | 'reminder' | 'plan' | 'files'
>;

/** What is written of a round before it begins, and what the page sends to save it. */
export interface RoundPlan extends RoundContent {
  name: string;
  wordings: Wording[];
  pace: RoundPace;
  /** Who was written to within so many days is pointed out. */
  recentDays: number;
  /** From which probability on the rest gets the better wording, 0.8 to 0.999; null for never. */
  decideAt: number | null;
}

/** Somebody to whom a round is to go, as a row of a sheet. */
export interface RoundRecipient extends Mailbox {
  /** What else is known of them, one cell for each column. */
  cells: string[];
}

/** People for a round, and what the columns are called in which more is known of them. */
export interface RoundRecipients {
  columns: string[];
  recipients: RoundRecipient[];
}

/** What a round begins with. */
export interface AddRoundRequest extends RoundRecipients {
  /** Empty: the subject is its name. */
  name: string;
  /** The draft whose text and recipients it takes over, and which goes with that; null for none. */
  draftId: number | null;
  personIds: number[];
  /** The user’s zone (IANA). */
  zone: string;
}

/** What the page sends to save a round. */
export interface SaveRoundRequest extends RoundPlan {
  /** The revision that this change starts from. */
  revision: number;
}

/** Whom of a round to leave out, or to take in again. */
export interface LeaveOutRequest {
  messageIds: number[];
  leftOut: boolean;
}

/** Why somebody of a round is pointed out before it begins. */
export const ROUND_WARNINGS = ['opted-out', 'bounced', 'twice', 'recently', 'not-tracked'] as const;
export type RoundWarning = (typeof ROUND_WARNINGS)[number];

/** Somebody to whom a round goes, and their message. */
export interface RoundMember {
  messageId: number;
  recipient: Mailbox;
  company: string;
  personId: number | null;
  /** Which wording is theirs, from 0. */
  wording: number;
  /** Whether they got it because it was the better one, and not by chance. */
  isRest: boolean;
  /** Whether their message was changed by itself. */
  edited: boolean;
  leftOut: boolean;
  warnings: RoundWarning[];
  /** Placeholders for which nothing is known of them. */
  unfilled: string[];
  state: MessageState;
  sendAt: number | null;
  /** How it stands since it left; null while it has not. */
  summary: MessageSummary | null;
}

/** What of the results of a wording is counted, the strongest evidence first. */
export const EVIDENCE = ['replied', 'clicked', 'read'] as const;
export type Evidence = (typeof EVIDENCE)[number];

/** How one wording did. */
export interface WordingResult {
  sent: number;
  rates: Record<Evidence, Rate>;
}

/** How some wordings compare by one sort of evidence. */
export interface WordingComparison {
  evidence: Evidence;
  /** For each wording, how likely it is the best. */
  probabilities: number[];
  /** The most probable to be the best, and the next. */
  best: number;
  next: number;
  /** How much better the best did than the next, with the interval for 95 per cent. */
  difference: Comparison;
  /** About how many more messages would show a difference of that size; null where there is none to show. */
  needed: number | null;
}

export interface RoundView extends RoundPlan {
  id: number;
  state: RoundState;
  /** Why it was paused by itself; null where it was not. */
  pauseReason: string | null;
  /** How many times slower it goes, since the mail server asked for it. */
  slowedBy: number;
  createdAt: number;
  revision: number;
  /** Names of the columns that came with a sheet. */
  columns: string[];
  members: RoundMember[];
  results: WordingResult[];
  /** By the strongest evidence first; none where there is one wording, or nothing to compare. */
  comparisons: WordingComparison[];
  /** The wording that the rest gets; null where none was chosen. */
  restWording: number | null;
}

/** A row of the list of rounds. */
export interface RoundRow {
  id: number;
  name: string;
  state: RoundState;
  createdAt: number;
  people: number;
  /** Taken by the mail server; refused by it; still to leave. */
  sent: number;
  failed: number;
  waiting: number;
  replied: number;
}
