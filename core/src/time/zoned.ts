import { DateTime } from 'luxon';

/** A wall-clock time without a zone: what stands in a date field. Months from 1. */
export interface WallTime {
  year: number;
  month: number;
  day: number;
  hour: number;
  minute: number;
}

/**
 * The moment at which the clocks of a zone show a time, in epoch milliseconds. A time that the change to summer time
 * leaps over is moved on by the leap; of a time that comes twice in autumn the first is meant.
 *
 * @param zone IANA name, such as “Europe/Helsinki”
 * @throws RangeError where there is no such zone or date
 */
export function momentOf(time: WallTime, zone: string): number {
  const moment = DateTime.fromObject(time, { zone });
  if (!moment.isValid) throw new RangeError(moment.invalidExplanation ?? 'There is no such time');
  // Luxon leaves it open which of two equal times it takes: look whether the clocks showed the same an hour before.
  const hourBefore = moment.minus({ hours: 1 });
  const twice = hourBefore.hour === moment.hour && hourBefore.minute === moment.minute;
  return (twice ? hourBefore : moment).toMillis();
}

/** What the clocks of a zone show at a moment. */
export function wallTimeAt(at: number, zone: string): WallTime {
  const { year, month, day, hour, minute } = DateTime.fromMillis(at, { zone });
  return { year, month, day, hour, minute };
}

/** When the day of a moment begins by the clocks of a zone, in epoch milliseconds. `addDays`: of a day so many later. */
export function dayStart(at: number, zone: string, addDays = 0): number {
  return DateTime.fromMillis(at, { zone }).startOf('day').plus({ days: addDays }).startOf('day').toMillis();
}
