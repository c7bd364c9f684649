import type { Rate } from '../contract/report.js';

type Count = Pick<Rate, 'n' | 'of'>;

/** The grid on which densities are added up; even, as Simpson’s rule wants it. */
const STEPS = 2048;
/** Outside so many standard deviations around its middle, a distribution holds nothing that shows. */
const REACH = 10;

/**
 * For each of several shares, how likely the true one is the largest. Before anything was counted, every share between 0
 * and 1 is held to be as likely as any other; after n of m it follows Beta(1 + n, 1 + m − n) (W. R. Thompson, “On the
 * likelihood that one unknown probability exceeds another in view of the evidence of two samples”, Biometrika 25, 1933;
 * A. Gelman et al., Bayesian Data Analysis, 3rd edition, section 2.4).
 *
 * @returns numbers between 0 and 1 that add up to 1
 * @example probabilitiesOfBest([{ n: 0, of: 1 }, { n: 1, of: 1 }]) // [1/6, 5/6]
 */
export function probabilitiesOfBest(counts: readonly Count[]): number[] {
  const posteriors = counts.map(({ n, of }) => ({ a: 1 + n, b: 1 + of - n }));
  const [low, high] = rangeOf(posteriors);
  const width = (high - low) / STEPS;
  const densities = posteriors.map(({ a, b }) => densityOn(a, b, low, width));
  const below = densities.map((density) => cumulated(density, width));
  const raw = densities.map((density, which) => {
    const isLargest = (step: number) =>
      below.reduce((product, part, other) => (other === which ? product : product * part[step]!), density[step]!);
    return simpson(width, isLargest) / simpson(width, (step) => density[step]!);
  });
  const sum = raw.reduce((total, value) => total + value, 0);
  return raw.map((value) => value / sum);
}

/**
 * How many messages of each of two sorts it takes to see a difference as large as it seems to be: with a probability of
 * 80 per cent, at a level of 5 per cent, both sides (J. L. Fleiss, B. Levin, M. C. Paik, Statistical Methods for Rates and
 * Proportions, 3rd edition, section 4.1, without the correction for continuity).
 *
 * @param p, q two shares between 0 and 1 that differ
 * @example sampleSize(0.1, 0.2) // 199
 */
export function sampleSize(p: number, q: number): number {
  const middle = (p + q) / 2;
  const spread = Z_LEVEL * Math.sqrt(2 * middle * (1 - middle)) + Z_POWER * Math.sqrt(p * (1 - p) + q * (1 - q));
  return Math.ceil((spread / (p - q)) ** 2);
}

const Z_LEVEL = 1.959963984540054;
const Z_POWER = 0.8416212335729143;
/** More than these nobody sends one by one. */
const MAX_NEEDED = 100_000;

/**
 * About how many more messages, of both sorts together, would show the difference between two shares; null where it needs
 * none, or more than anybody sends. What a few messages show is taken for less than it seems: the middle of what is likely.
 */
export function messagesNeeded(one: Count, other: Count): number | null {
  const middle = ({ n, of }: Count) => (n + 1) / (of + 2);
  const [p, q] = [middle(one), middle(other)];
  if (p === q) return null;
  const each = sampleSize(p, q);
  const needed = Math.max(each - one.of, 0) + Math.max(each - other.of, 0);
  return needed === 0 || needed > MAX_NEEDED ? null : needed;
}

function rangeOf(posteriors: readonly { a: number; b: number }[]): [number, number] {
  const ends = posteriors.map(({ a, b }) => {
    const mean = a / (a + b);
    const reach = REACH * Math.sqrt((mean * (1 - mean)) / (a + b + 1));
    return [mean - reach, mean + reach] as const;
  });
  return [Math.max(0, Math.min(...ends.map(([low]) => low))), Math.min(1, Math.max(...ends.map(([, high]) => high)))];
}

/** The density of Beta(a, b), but for a factor, at each point of the grid: its largest value is 1. */
function densityOn(a: number, b: number, low: number, width: number): Float64Array {
  const log = (x: number) => power(a - 1, x) + power(b - 1, 1 - x);
  const mode = a + b > 2 ? (a - 1) / (a + b - 2) : 0.5;
  const peak = log(mode);
  return Float64Array.from({ length: STEPS + 1 }, (_, step) => Math.exp(log(low + step * width) - peak));
}

/** The logarithm of a power; that of 0 to the power of 0 is that of 1. */
function power(exponent: number, x: number): number {
  return exponent === 0 ? 0 : exponent * Math.log(Math.max(x, 0));
}

/** How much of a density lies below each point of the grid, as a part of all of it. */
function cumulated(density: Float64Array, width: number): Float64Array {
  const sums = new Float64Array(density.length);
  for (let step = 1; step < density.length; step += 1)
    sums[step] = sums[step - 1]! + ((density[step - 1]! + density[step]!) / 2) * width;
  const all = sums.at(-1)!;
  return sums.map((sum) => sum / all);
}

/** Simpson’s rule: the integral of a function over the grid. */
function simpson(width: number, valueAt: (step: number) => number): number {
  let sum = valueAt(0) + valueAt(STEPS);
  for (let step = 1; step < STEPS; step += 1) sum += valueAt(step) * (step % 2 === 1 ? 4 : 2);
  return (sum * width) / 3;
}
