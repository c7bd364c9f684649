import { DateTime } from 'luxon';
import type { SummarySettings } from '../contract/summary.js';
import { momentOf } from '../time/zoned.js';

const WEEK_DAYS = 7;

type When = Pick<SummarySettings, 'weekdays' | 'time' | 'zone'>;

/** When a summary was last to be emailed, up to a time; null where none ever is. In epoch milliseconds. */
export function lastSummaryAt(when: When, now: number): number | null {
  return momentsAround(when, now).findLast((at) => at <= now) ?? null;
}

/** When the next one is to be emailed; null where none ever is. */
export function nextSummaryAt(when: When, now: number): number | null {
  return momentsAround(when, now).find((at) => at > now) ?? null;
}

/** From a week before to a week after, in their order. */
function momentsAround({ weekdays, time, zone }: When, now: number): number[] {
  const [hour, minute] = time.split(':').map(Number) as [number, number];
  const today = DateTime.fromMillis(now, { zone }).startOf('day');
  return Array.from({ length: 2 * WEEK_DAYS + 1 }, (_, index) => today.plus({ days: index - WEEK_DAYS }))
    .filter(({ weekday }) => weekdays.includes(weekday - 1))
    .map(({ year, month, day }) => momentOf({ year, month, day, hour, minute }, zone));
}
