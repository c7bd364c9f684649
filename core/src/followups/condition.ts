import { PROOF_COUNTS } from '../activity/kinds.js';
import type { Condition, Tally } from '../contract/index.js';

/** What became of a message, as far as conditions ask for it. */
export type Counts = Pick<Tally, 'opens' | 'clicks' | 'fileViews' | 'replies'>;

/**
 * What ends each condition: it holds while all of these are 0. A click, a file view or a reply proves that it was read; a
 * reply ends everything but “in any case”.
 */
export const ENDED_BY: Record<Condition, readonly (keyof Counts)[]> = {
  'not-replied': ['replies'],
  'not-opened': PROOF_COUNTS,
  'not-clicked': ['clicks', 'fileViews', 'replies'],
  always: [],
};

/** Whether a condition still holds for what became of a message. */
export function holds(condition: Condition, counts: Counts): boolean {
  return ENDED_BY[condition].every((count) => counts[count] === 0);
}

/** Whether a reply ends it, whatever else it waits for. */
export function endsWithReply(condition: Condition): boolean {
  return ENDED_BY[condition].includes('replies');
}

/** What happened to a message, where a condition no longer holds: “Replied”. */
export function resolvedText({ replies, clicks, fileViews }: Counts): string {
  if (replies > 0) return 'Replied';
  if (clicks > 0) return 'A link was clicked';
  return fileViews > 0 ? 'A file was viewed' : 'Read';
}
