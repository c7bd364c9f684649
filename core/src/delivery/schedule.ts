import type { Recurrence } from '../contract/index.js';
import { DAY, MINUTE, nextOccurrence, recurrenceProblem } from '../time/index.js';

/** How late a message may still leave by itself; what is older was missed while the machine was off, and asks. */
export const MAX_OVERDUE_MS = DAY;
/** A message due longer ago than this was missed while the machine was off, and asks for a decision. */
export const OVERDUE_MS = 5 * MINUTE;
/** A message that could not leave stands in the way of no other for as long. */
export const LEAVE_RETRY_MS = MINUTE;
const MAX_SCHEDULE_AHEAD_MS = 366 * DAY;

/**
 * Why a message cannot leave at a time; null where it can.
 *
 * @param at epoch milliseconds, as `now`
 */
export function sendTimeProblem(at: number, now: number): string | null {
  if (at < now - MINUTE) return 'This time is past. Choose one that is still to come.';
  return at > now + MAX_SCHEDULE_AHEAD_MS ? 'Choose a time within a year.' : null;
}

/**
 * Why a message that leaves at a time cannot repeat by a rule; null where it can.
 *
 * @param sendAt epoch milliseconds
 */
export function repeatProblem(recurrence: Recurrence, sendAt: number): string | null {
  const problem = recurrenceProblem(recurrence);
  if (problem !== null || nextOccurrence(recurrence, sendAt)) return problem;
  return 'By this rule it would be sent only once. Choose another, or send it once.';
}
