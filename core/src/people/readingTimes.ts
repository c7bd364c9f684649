import type { Confidence, ReadingTimes } from '../contract/index.js';
import { DAY } from '../time/words.js';
import { hourOfWeek } from '../time/hourOfWeek.js';

/** From Monday on. */
export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;
const HOURS = 24;

/** Fewer opens, or on fewer days, than these say nothing about habits. */
const CONFIDENCE: readonly { confidence: Confidence; readTimes: number; days: number }[] = [
  { confidence: 'fairly', readTimes: 30, days: 10 },
  { confidence: 'a-hint', readTimes: 8, days: 4 },
  { confidence: 'too-few', readTimes: 1, days: 1 },
];

/** Of its neighbours in time, an hour takes on this part: who reads at ten may read at eleven. */
const NEIGHBOUR_WEIGHT = 0.5;

/**
 * Sorts opens by weekday and hour.
 *
 * @param readTimes epoch milliseconds, in any order
 * @param zone IANA name of the reader's zone
 */
export function readingTimes(readTimes: readonly number[], zone: string): ReadingTimes {
  const counter = new ReadingTimesCounter(zone);
  for (const at of readTimes) counter.add(at);
  return counter.view();
}

/** The same for very many: one at a time. */
export class ReadingTimesCounter {
  private readonly table = WEEKDAYS.map(() => new Array<number>(HOURS).fill(0));
  private readonly days = new Set<number>();
  private total = 0;

  /** @param zone IANA name of the reader’s zone */
  constructor(private readonly zone: string) {}

  /** @param at epoch milliseconds */
  add(at: number): void {
    const { weekday, hour, localMs } = hourOfWeek(at, this.zone);
    this.table[weekday]![hour]! += 1;
    this.days.add(Math.floor(localMs / DAY));
    this.total += 1;
  }

  view(): ReadingTimes {
    const { table: readTimes, days, total } = this;
    const confidence =
      CONFIDENCE.find((step) => total >= step.readTimes && days.size >= step.days)?.confidence ?? 'nothing';
    const known = confidence === 'fairly' || confidence === 'a-hint';
    return { readTimes, total, days: days.size, confidence, busiest: known ? busiest(readTimes) : null };
  }
}

/** The hour around which most is read, its neighbours counting half; the earliest of equals. */
function busiest(table: number[][]): { weekday: number; hour: number } {
  let best = { weekday: 0, hour: 0, weight: -1 };
  table.forEach((hours, weekday) =>
    hours.forEach((readTimes, hour) => {
      const weight =
        readTimes === 0 ? 0 : readTimes + NEIGHBOUR_WEIGHT * ((hours[hour - 1] ?? 0) + (hours[hour + 1] ?? 0));
      if (weight > best.weight) best = { weekday, hour, weight };
    }),
  );
  return { weekday: best.weekday, hour: best.hour };
}
