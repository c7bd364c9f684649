import type { CopyState } from '../contract/message.js';

/** How the outgoing mail server has received a message of a round. */
export type HandOver = 'waiting' | 'accepted' | 'delayed' | 'refused';

/** Of so many of the newest it is asked how they were received. */
export const RECENT_HAND_OVERS = 10;
/** So many may be on their way at a time: before more follow, it must be known how these were received. */
const MAX_ON_THEIR_WAY = 4;
const REFUSED_WITHIN = 5;
const REFUSALS = 3;
const SLOWEST = 8;

/** What a round has to do about it. */
export interface ProviderVerdict {
  /** How many times slower than wanted it may go on. */
  slowedBy: number;
  /** Whether it has to wait until those on their way have been received. */
  mustWait: boolean;
  /** Whether it has to pause: too many were refused. */
  mustPause: boolean;
}

/** How a copy was received, by its state and how often the outbox has tried it. */
export function handOverOf(state: CopyState, attempts: number | null): HandOver {
  if (state === 'sent') return 'accepted';
  if (state === 'failed') return 'refused';
  return (attempts ?? 0) > 0 ? 'delayed' : 'waiting';
}

/**
 * How the limits of a mail server are respected: each message that it asked to be tried later (RFC 5321, section 4.2.1:
 * 4yz) doubles the distance between the next, and when most of the newest are refused (5yz), nothing more is sent.
 *
 * @param newest how the newest messages since the round was started or resumed were received, the newest first
 */
export function providerVerdict(newest: readonly HandOver[]): ProviderVerdict {
  const known = newest.filter((one) => one !== 'waiting');
  const count = (list: readonly HandOver[], wanted: HandOver) => list.filter((one) => one === wanted).length;
  return {
    slowedBy: Math.min(2 ** count(known, 'delayed'), SLOWEST),
    mustWait: newest.length - known.length >= MAX_ON_THEIR_WAY,
    mustPause: count(known.slice(0, REFUSED_WITHIN), 'refused') >= REFUSALS,
  };
}
