import type { Comparison, Rate } from '../contract/report.js';

/** So many standard deviations around the middle hold the given part of a normal distribution. */
export const Z = { 95: 1.959963984540054, 99: 2.5758293035489004 };

/**
 * A share with the interval in which the true one lies with 95 per cent (E. B. Wilson, “Probable inference, the law of
 * succession, and statistical inference”, JASA 22, 1927): it keeps within 0 and 1, and does not shrink to nothing where
 * none or all of a few were counted.
 *
 * @param n how many, at most `of`
 */
export function rateOf(n: number, of: number): Rate {
  if (of === 0) return { n, of, share: null, low: 0, high: 1 };
  return { n, of, share: n / of, ...wilson(n, of, Z[95]) };
}

/**
 * How far apart two shares are, with the interval in which the true difference lies with 99 per cent (R. G. Newcombe,
 * “Interval estimation for the difference between independent proportions”, Statistics in Medicine 17, 1998, method 10).
 * Of several that are compared at once one may stand out by chance: hence not 95.
 *
 * @returns null where one of them has nothing to count
 */
export function compare(one: Pick<Rate, 'n' | 'of'>, other: Pick<Rate, 'n' | 'of'>, z = Z[99]): Comparison | null {
  if (one.of === 0 || other.of === 0) return null;
  const [p, q] = [one.n / one.of, other.n / other.of];
  const [a, b] = [wilson(one.n, one.of, z), wilson(other.n, other.of, z)];
  return {
    difference: p - q,
    low: p - q - Math.hypot(p - a.low, b.high - q),
    high: p - q + Math.hypot(a.high - p, q - b.low),
  };
}

function wilson(n: number, of: number, z: number): { low: number; high: number } {
  const share = n / of;
  const middle = share + (z * z) / (2 * of);
  const reach = z * Math.sqrt((share * (1 - share)) / of + (z * z) / (4 * of * of));
  const scale = 1 + (z * z) / of;
  // Exactly the ends where none or all were counted, whatever rounding makes of them.
  return {
    low: n === 0 ? 0 : (middle - reach) / scale,
    high: n === of ? 1 : (middle + reach) / scale,
  };
}
