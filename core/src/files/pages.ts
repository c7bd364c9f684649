import type { FileReading } from '../contract/file.js';
import { REPORT_EVERY_MS } from './limits.js';

/** Windows report what is read every few seconds: after so long without a report, it is not read any more. */
const READING_NOW_MS = 3 * REPORT_EVERY_MS;

/** What is known of one page over some readings. */
export interface PageSum {
  page: number;
  /** For how long it was read, in total. */
  ms: number;
  /** How many readings came to it. */
  readings: number;
  /** How many came back to it after another page. */
  returned: number;
  /** How many ended on it. */
  ended: number;
}

/** How long a reading was, over all its pages. */
export function readMs({ visits }: Pick<FileReading, 'visits'>): number {
  return visits.reduce((sum, { ms }) => sum + ms, 0);
}

/**
 * Sums of each page, of all that there are.
 *
 * @param isOver whether a reading has ended; one that goes on ends nowhere yet
 */
export function pageSums<R extends Pick<FileReading, 'visits'>>(
  readings: readonly R[],
  pages: number,
  isOver: (reading: R) => boolean = () => true,
): PageSum[] {
  const sums = Array.from({ length: pages }, (_, index): PageSum => ({
    page: index + 1,
    ms: 0,
    readings: 0,
    returned: 0,
    ended: 0,
  }));
  for (const reading of readings) {
    const { visits } = reading;
    const times = new Map<number, number>();
    for (const { page, ms } of visits) {
      const sum = sums[page - 1];
      if (!sum) continue;
      sum.ms += ms;
      times.set(page, (times.get(page) ?? 0) + 1);
    }
    for (const [page, count] of times) {
      sums[page - 1]!.readings += 1;
      if (count > 1) sums[page - 1]!.returned += 1;
    }
    const last = isOver(reading) ? sums[(visits.at(-1)?.page ?? 0) - 1] : undefined;
    if (last) last.ended += 1;
  }
  return sums;
}

/** The page where most readings ended before the last one was reached; null where none stands out. */
export function whereReadersStop(sums: readonly PageSum[]): PageSum | null {
  const before = sums.slice(0, -1).filter(({ ended }) => ended > 1);
  return before.reduce<PageSum | null>((most, sum) => (most && most.ended >= sum.ended ? most : sum), null);
}

/** The page that is being read this moment; null where none is. */
export function pageNow({ visits, lastAt, counted }: FileReading, now: number): number | null {
  return counted && now - lastAt < READING_NOW_MS ? (visits.at(-1)?.page ?? null) : null;
}
