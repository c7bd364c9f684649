import { HOUR, MINUTE } from '../time/index.js';

/** How long to wait after each failed attempt; the last one repeats. RFC 5321, section 4.5.4.1, gives the spirit. */
const RETRY_DELAYS_MS = [MINUTE, 5 * MINUTE, 15 * MINUTE, 30 * MINUTE, HOUR, 3 * HOUR];

/**
 * How long to wait, in milliseconds, before a mail is tried again.
 *
 * @param attempts how often it was tried, at least once
 * @example retryDelayMs(1) // 60000
 */
export function retryDelayMs(attempts: number): number {
  return RETRY_DELAYS_MS[Math.min(attempts, RETRY_DELAYS_MS.length) - 1]!;
}
