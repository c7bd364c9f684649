import type { MessageSummary } from './message.js';

/** Why somebody is worth getting in touch with, and how much that weighs. */
export interface SignalPart {
  name: string;
  /** Of the score. */
  points: number;
  /** “Opened 4 times within the hour”. */
  words: string;
}

/** Somebody to get in touch with: what they do suggests it. */
export interface Proposal {
  person: { id: number; name: string; address: string; company: string; phone: string };
  /** The message that they are busy with. */
  message: MessageSummary;
  copyId: number;
  /** The sum of the points, the most pressing first. */
  score: number;
  parts: SignalPart[];
  /** When they last did something. */
  lastAt: number;
}

export interface TodayView {
  proposals: Proposal[];
  /** How many more there are than are shown. */
  more: number;
  /** How many messages show no sign after a week. */
  noSignTotal: number;
}
