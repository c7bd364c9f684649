import type { EventKind } from '../contract/event.js';
import type { Tally } from '../contract/tally.js';

export interface TallyEvent {
  kind: EventKind;
  at: number;
  counted: boolean;
  /** It counts, and may not be a person’s all the same. */
  uncertain?: boolean;
  /** How many hits it stands for, where that is more than one. */
  times?: number;
}

export const EMPTY_TALLY: Readonly<Tally> = {
  opens: 0,
  clicks: 0,
  fileViews: 0,
  replies: 0,
  uncertainOpens: 0,
  uncertainClicks: 0,
  uncertainViews: 0,
  notCounted: 0,
  firstOpenAt: null,
  lastOpenAt: null,
  firstClickAt: null,
  lastClickAt: null,
  repliedAt: null,
  lastReplyAt: null,
  lastEventAt: null,
};

type CountField = 'opens' | 'clicks' | 'fileViews' | 'replies';
type UncertainField = 'uncertainOpens' | 'uncertainClicks' | 'uncertainViews';
type TimeField = 'firstOpenAt' | 'lastOpenAt' | 'firstClickAt' | 'lastClickAt' | 'repliedAt' | 'lastReplyAt';

/** Which figures each kind of event moves. */
const MOVES: Partial<
  Record<EventKind, { count: CountField; uncertain?: UncertainField; first?: TimeField; last?: TimeField }>
> = {
  opened: { count: 'opens', uncertain: 'uncertainOpens', first: 'firstOpenAt', last: 'lastOpenAt' },
  clicked: { count: 'clicks', uncertain: 'uncertainClicks', first: 'firstClickAt', last: 'lastClickAt' },
  file_viewed: { count: 'fileViews', uncertain: 'uncertainViews' },
  replied: { count: 'replies', first: 'repliedAt', last: 'lastReplyAt' },
};

/** The tally after one more event. Events may come in any order: the outcome is the same. */
export function addToTally(tally: Tally, event: TallyEvent): Tally {
  if (!event.counted) return { ...tally, notCounted: tally.notCounted + (event.times ?? 1) };
  const next = { ...tally, lastEventAt: later(tally.lastEventAt, event.at) };
  const move = MOVES[event.kind];
  if (!move) return next;
  next[move.count] += 1;
  if (event.uncertain && move.uncertain) next[move.uncertain] += 1;
  if (move.first) next[move.first] = earlier(next[move.first], event.at);
  if (move.last) next[move.last] = later(next[move.last], event.at);
  return next;
}

/** Counts from the start: what every stored tally must equal. */
export function tallyOf(events: Iterable<TallyEvent>): Tally {
  let tally: Tally = EMPTY_TALLY;
  for (const event of events) tally = addToTally(tally, event);
  return tally;
}

function earlier(a: number | null, b: number): number {
  return a === null ? b : Math.min(a, b);
}

function later(a: number | null, b: number): number {
  return a === null ? b : Math.max(a, b);
}
