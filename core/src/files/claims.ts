import type { Visit } from '../contract/file.js';
import { SECOND } from '../time/words.js';
import { FILE_LIMITS, SKIMMED_MS } from './limits.js';

/** Clocks of windows and servers do not tick alike, and messages take their time. */
const CLOCK_SLACK_MS = SECOND;

/**
 * What to accept of what a window says was read: nobody reads for longer than it has been open. Saying it twice, or in
 * another order, changes nothing; a visit never shrinks, and stays with its page.
 *
 * @param claimed as it came
 * @param known what is written down of the same reading
 * @param sinceStartMs how long it has been open by our own clock, less what the same reader read in other windows meanwhile
 * @param pages how many there are; null where that is not known
 * @returns those visits that are new, or longer than they were
 */
export function plausibleVisits(
  claimed: readonly Visit[],
  known: readonly Visit[],
  sinceStartMs: number,
  pages: number | null,
): Visit[] {
  const byVisit = new Map(known.map((visit) => [visit.visit, visit]));
  let leftMs = sinceStartMs + CLOCK_SLACK_MS - known.reduce((sum, { ms }) => sum + ms, 0);
  const ordered = claimed.filter((visit) => isPossible(visit, pages)).sort((a, b) => a.visit - b.visit);
  for (const { visit, page, ms } of ordered) {
    const before = byVisit.get(visit);
    if (before && before.page !== page) continue;
    const moreMs = Math.min(ms - (before?.ms ?? 0), leftMs);
    if (moreMs <= 0 || (!before && moreMs < SKIMMED_MS)) continue;
    leftMs -= moreMs;
    byVisit.set(visit, { visit, page, ms: (before?.ms ?? 0) + moreMs });
  }
  return [...byVisit.values()].filter((visit) => !known.includes(visit)).sort((a, b) => a.visit - b.visit);
}

function isPossible({ visit, page, ms }: Visit, pages: number | null): boolean {
  return (
    isWithin(visit, FILE_LIMITS.maxVisits) &&
    isWithin(page, pages ?? FILE_LIMITS.maxPages) &&
    Number.isFinite(ms) &&
    ms > 0 &&
    ms <= FILE_LIMITS.maxVisitMs
  );
}

function isWithin(number: number, most: number): boolean {
  return Number.isInteger(number) && number >= 1 && number <= most;
}
