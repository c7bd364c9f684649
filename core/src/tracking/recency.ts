import { DAY, MINUTE } from '../time/words.js';

/** Activity as recent as this happens now. */
export const NOW_MS = 10 * MINUTE;
/** So many opens within the hour: the recipient is thinking about it. */
export const HEATING_UP_OPENS = 3;
/** An open this long after the one before it is a comeback. */
export const COMEBACK_MS = 14 * DAY;

/** Whether something is recent enough to be shown as activity of this moment. Both times in epoch milliseconds. */
export function isNow(at: number, now: number): boolean {
  return now - at < NOW_MS;
}
