import { EVENT_KINDS, type EventKind } from '../contract/event.js';
import type { Tally } from '../contract/tally.js';

/** What a kind of event can be, besides what it is called. Each question of this sort is asked here, and nowhere else. */
interface Sets {
  /** A request at the public site, which the rules judge. */
  hit?: true;
  /** Something that a recipient does with the message: it is a reason to get in touch. */
  activity?: true;
  /** Says at which hours somebody reads. */
  hours?: true;
  /** Proves that the message was read; which count of the message it moves. */
  proof?: 'opens' | 'clicks' | 'fileViews' | 'replies';
  /** Came by mail: no device of the recipient asked for anything here. */
  mail?: true;
  /** Stands in trails and charts by itself: the pages of a file are one view with its opening. */
  trail?: true;
}

const KINDS = {
  delivered: { mail: true, trail: true },
  bounced: { mail: true, trail: true },
  opened: { hit: true, activity: true, hours: true, proof: 'opens', trail: true },
  // Images may be blocked where a link is clicked: that proves it as well.
  clicked: { hit: true, activity: true, hours: true, proof: 'clicks', trail: true },
  file_viewed: { hit: true, activity: true, hours: true, proof: 'fileViews', trail: true },
  page_viewed: { activity: true },
  downloaded: { hit: true, activity: true, trail: true },
  // Mostly written later than it was read, so that it says little of when.
  replied: { proof: 'replies', mail: true, trail: true },
  receipt: { mail: true, trail: true },
  opted_out: { trail: true },
} as const satisfies Record<EventKind, Sets>;

/** The kinds of one set, as a type. */
type KindOf<Set extends keyof Sets> = {
  [Kind in EventKind]: (typeof KINDS)[Kind] extends Record<Set, unknown> ? Kind : never;
}[EventKind];

/**
 * The kinds of one set, in the order of {@link EVENT_KINDS}.
 *
 * @example kindsOf('hours') // ['opened', 'clicked', 'file_viewed']
 */
export function kindsOf<Set extends keyof Sets>(set: Set): KindOf<Set>[] {
  return EVENT_KINDS.filter((kind): kind is KindOf<Set> => isOf(set, kind));
}

/** Whether a kind is of a set. */
export function isOf(set: keyof Sets, kind: EventKind): boolean {
  return set in KINDS[kind];
}

/** What rules judge. */
export type HitKind = KindOf<'hit'>;

/** The counts of a message that prove a reading: “no sign of reading” is that all of them are 0. */
export const PROOF_COUNTS = kindsOf('proof').map((kind) => KINDS[kind].proof);

/** Whether the counts of a message, or of a copy, prove that it was read. */
export function wasRead(counts: Pick<Tally, (typeof PROOF_COUNTS)[number]>): boolean {
  return PROOF_COUNTS.some((count) => counts[count] > 0);
}
