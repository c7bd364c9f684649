import { DateTime } from 'luxon';
import { momentOf } from '../time/zoned.js';

const FRIDAY = 5;

/**
 * The moment so many working days (Monday to Friday) after another, at a time of day by the clocks of a zone. From a
 * weekend on, the first working day is Monday.
 *
 * @param from epoch milliseconds
 * @param time “09:30”
 */
export function afterWorkingDays(from: number, days: number, time: string, zone: string): number {
  let date = DateTime.fromMillis(from, { zone });
  for (let left = days; left > 0;) {
    date = date.plus({ days: 1 });
    if (date.weekday <= FRIDAY) left -= 1;
  }
  const [hour, minute] = time.split(':').map(Number) as [number, number];
  return momentOf({ year: date.year, month: date.month, day: date.day, hour, minute }, zone);
}
