import { MINUTE } from '../time/words.js';

/** More hits than these around the same time are recorded as one: of one copy over one network, of one message. */
const FLOOD_HITS = { ofCopyOverNetwork: 30, ofMessage: 600 };

/** Around a hit, this is the same time. */
export const FLOOD_WINDOW_MS = 3 * MINUTE;

/** How much came around the time of a hit. */
export interface HitLoad {
  /** Hits of the same copy over the same network. */
  ofCopyOverNetwork: number;
  /** All hits of the message. */
  ofMessage: number;
}

/**
 * Whether a hit comes among more than anybody makes. It is then recorded with the others as one, and not judged, so that a
 * flood costs neither room nor time.
 */
export function isFlood({ ofCopyOverNetwork, ofMessage }: HitLoad): boolean {
  return ofCopyOverNetwork >= FLOOD_HITS.ofCopyOverNetwork || ofMessage >= FLOOD_HITS.ofMessage;
}
