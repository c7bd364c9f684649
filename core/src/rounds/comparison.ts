import { EVIDENCE, type Evidence, type WordingComparison, type WordingResult } from '../contract/round.js';
import { compare, Z } from '../reports/rate.js';
import { messagesNeeded, probabilitiesOfBest } from '../reports/better.js';

/** From this probability on, one wording is said to be better. */
export const LIKELY_BETTER = 0.95;
/** Before each wording has as many results, the rest is not decided by itself: early leads come and go. */
export const MIN_RESULTS_TO_DECIDE = 20;

/**
 * How wordings compare, by each sort of evidence by which all of them can be counted, the strongest first.
 *
 * @returns nothing where there is one wording only
 */
export function compareWordings(results: readonly WordingResult[]): WordingComparison[] {
  if (results.length < 2) return [];
  return EVIDENCE.flatMap((evidence) => comparisonBy(results, evidence) ?? []);
}

function comparisonBy(results: readonly WordingResult[], evidence: Evidence): WordingComparison | null {
  const rates = results.map((result) => result.rates[evidence]);
  if (rates.some(({ of }) => of === 0)) return null;
  const probabilities = probabilitiesOfBest(rates);
  const [best, next] = rates.map((_, index) => index).sort((a, b) => probabilities[b]! - probabilities[a]!) as [
    number,
    number,
  ];
  const difference = compare(rates[best]!, rates[next]!, Z[95])!;
  return { evidence, probabilities, best, next, difference, needed: messagesNeeded(rates[best]!, rates[next]!) };
}

/**
 * Which wording the rest of a round gets by itself; null while that cannot be said: replies decide, each wording has
 * some results, and the probability has reached the bound that was chosen.
 */
export function decidedWording(results: readonly WordingResult[], decideAt: number | null): number | null {
  if (decideAt === null || results.some(({ sent }) => sent < MIN_RESULTS_TO_DECIDE)) return null;
  const [replies] = compareWordings(results);
  if (replies?.evidence !== 'replied') return null;
  return replies.probabilities[replies.best]! >= decideAt ? replies.best : null;
}
