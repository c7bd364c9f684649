import { readWhen } from '@kiraku/core/followups';
import { invalid } from '../http/problem.js';

/**
 * A time in words, in epoch milliseconds.
 *
 * @throws 422 where it is none, or past
 */
export function readTime(when: string, now: number, zone: string): number {
  const read = readWhen(when, now, zone);
  if ('problem' in read) throw invalid(read.problem, [{ field: 'when', message: read.problem }]);
  return read.at;
}
