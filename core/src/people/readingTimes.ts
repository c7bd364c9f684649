import { counted, DAY } from '../time/words.js';
import { hourOfWeek } from './hourOfWeek.js';

/** From Monday on. */
export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;
const HOURS = 24;

/** When somebody reads, by weekday and hour of their zone. */
export interface ReadingTimes {
  /** Looks by weekday (from Monday) and hour: 7 rows of 24. */
  looks: number[][];
  total: number;
  /** On how many different days. */
  days: number;
  sureness: Sureness;
  /** The hour around which most was read; null where too little is known to speak of one. */
  busiest: { weekday: number; hour: number } | null;
}

/** How far the hours can be relied on. */
export type Sureness = 'nothing' | 'too-few' | 'a-hint' | 'fairly';

/** Fewer looks, or on fewer days, than these say nothing about habits. */
const SURENESS: readonly { sureness: Sureness; looks: number; days: number }[] = [
  { sureness: 'fairly', looks: 30, days: 10 },
  { sureness: 'a-hint', looks: 8, days: 4 },
  { sureness: 'too-few', looks: 1, days: 1 },
];

/** Of its neighbours in time, an hour takes on this part: who reads at ten may read at eleven. */
const NEIGHBOUR_WEIGHT = 0.5;

/**
 * Sorts looks by weekday and hour.
 *
 * @param looks epoch milliseconds, in any order
 * @param zone IANA name of the reader's zone
 */
export function readingTimes(looks: readonly number[], zone: string): ReadingTimes {
  const table = WEEKDAYS.map(() => new Array<number>(HOURS).fill(0));
  const days = new Set<number>();
  for (const at of looks) {
    const { weekday, hour, localMs } = hourOfWeek(at, zone);
    table[weekday]![hour]! += 1;
    days.add(Math.floor(localMs / DAY));
  }
  const sureness = SURENESS.find((step) => looks.length >= step.looks && days.size >= step.days)?.sureness ?? 'nothing';
  const known = sureness === 'fairly' || sureness === 'a-hint';
  return { looks: table, total: looks.length, days: days.size, sureness, busiest: known ? busiest(table) : null };
}

/** How sure one can be, in a sentence. */
export function surenessWords({ sureness, total, days }: ReadingTimes): string {
  const basis = `${counted(total, 'look')} on ${counted(days, 'day')}`;
  const words: Record<Sureness, string> = {
    nothing: 'No look yet that tells a time.',
    'too-few': `From ${basis}: too few to speak of a habit.`,
    'a-hint': `From ${basis}: a hint, no more.`,
    fairly: `From ${basis}: fairly sure.`,
  };
  return words[sureness];
}

/** “Tuesday around 10:00”. */
export function hourWords({ weekday, hour }: { weekday: number; hour: number }): string {
  const names = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];
  return `${names[weekday]} around ${String(hour).padStart(2, '0')}:00`;
}

/** The hour around which most is read, its neighbours counting half; the earliest of equals. */
function busiest(table: number[][]): { weekday: number; hour: number } {
  let best = { weekday: 0, hour: 0, weight: -1 };
  table.forEach((hours, weekday) =>
    hours.forEach((looks, hour) => {
      const weight = looks === 0 ? 0 : looks + NEIGHBOUR_WEIGHT * ((hours[hour - 1] ?? 0) + (hours[hour + 1] ?? 0));
      if (weight > best.weight) best = { weekday, hour, weight };
    }),
  );
  return { weekday: best.weekday, hour: best.hour };
}
