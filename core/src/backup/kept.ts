import { descending } from 'd3-array';

/** Of so many days, weeks and months of which there is a backup, the newest one is kept. Days are those of this machine. */
const KEPT: readonly { count: number; startOf(date: Date): Date }[] = [
  { count: 7, startOf: (date) => new Date(date.getFullYear(), date.getMonth(), date.getDate()) },
  { count: 4, startOf: (date) => new Date(date.getFullYear(), date.getMonth(), date.getDate() - date.getDay()) },
  { count: 12, startOf: (date) => new Date(date.getFullYear(), date.getMonth(), 1) },
];

/**
 * Which backups are kept, of those that there are: the newest of each of the last 7 days, 4 weeks and 12 months. A machine
 * that was off for a year has lost none of them by that.
 *
 * @param times when each was made, in epoch milliseconds, in any order
 * @returns those to keep, the newest first
 */
export function keptBackups(times: readonly number[]): number[] {
  const newestFirst = [...times].sort(descending);
  const kept = KEPT.flatMap(({ count, startOf }) => {
    const starts = newestFirst.map((at) => startOf(new Date(at)).getTime());
    return newestFirst.filter((_, index) => starts.indexOf(starts[index]!) === index).slice(0, count);
  });
  return newestFirst.filter((at) => kept.includes(at));
}
