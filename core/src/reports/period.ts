import type { Stretch } from '../time/period.js';
import { DAY } from '../time/words.js';
import { dayStart } from '../time/zoned.js';

/** Whoever reads a message at all does so mostly within these days; sooner it says nothing that it was not read. */
const SETTLING_DAYS = 2;

/** What was sent from a time on, null for the beginning, and before another; in epoch milliseconds. */
export interface ReportPeriod {
  from: number | null;
  to: number;
}

/**
 * Which messages are counted: those of whole days by the clocks of a zone, as the list can show them, and without the last
 * days, which would make every report look worse than things are. Of a time that is all too recent there are none.
 *
 * @param asked the time that is asked for, in epoch milliseconds
 * @param zone IANA name
 */
export function reportPeriod(asked: Stretch, now: number, zone: string): ReportPeriod {
  const from = asked.from === null ? null : dayStart(asked.from, zone);
  return { from, to: Math.min(asked.to ?? Infinity, dayStart(now, zone, -SETTLING_DAYS)) };
}

/** As many days just before; null where the period has no beginning, or no day. */
export function periodBefore({ from, to }: ReportPeriod, zone: string): { from: number; to: number } | null {
  if (from === null || from >= to) return null;
  return { from: dayStart(from, zone, -Math.round((to - from) / DAY)), to: from };
}
