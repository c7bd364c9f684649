import fc from 'fast-check';
import { messagesNeeded, probabilitiesOfBest, sampleSize } from '@kiraku/core/reports';

const counts = (max: number) =>
  fc.integer({ min: 0, max }).chain((of) => fc.record({ n: fc.integer({ min: 0, max: of }), of: fc.constant(of) }));

/** The logarithm of n!, by addition. */
const logFactorials = [0];
for (let n = 1; n < 1000; n += 1) logFactorials.push(logFactorials[n - 1]! + Math.log(n));
const logFactorial = (n: number) => logFactorials[n]!;
const logBeta = (a: number, b: number) => logFactorial(a - 1) + logFactorial(b - 1) - logFactorial(a + b - 1);

/** The same in closed form for two: the sum over whole parameters, by which the integral is checked. */
function exact(one: { n: number; of: number }, other: { n: number; of: number }): number {
  const [a1, b1, a2, b2] = [1 + one.n, 1 + one.of - one.n, 1 + other.n, 1 + other.of - other.n];
  let sum = 0;
  for (let i = 0; i < a2; i += 1)
    sum += Math.exp(logBeta(a1 + i, b1 + b2) - Math.log(b2 + i) - logBeta(1 + i, b2) - logBeta(a1, b1));
  return sum;
}

// Of uniform priors the small cases are fractions that can be worked out by hand.
test.each([
  [0, 0, 0, 0, 1 / 2],
  [0, 0, 1, 1, 2 / 3],
  [0, 1, 1, 1, 5 / 6],
  [0, 2, 2, 2, 19 / 20],
  [1, 2, 1, 2, 1 / 2],
])('after %d of %d, it is as likely as it can be worked out that %d of %d is better', (n, of, m, others, better) => {
  expect(
    probabilitiesOfBest([
      { n, of },
      { n: m, of: others },
    ])[1],
  ).toBeCloseTo(better, 5);
});

test('for two it is what the closed form says', () => {
  fc.assert(
    fc.property(counts(300), counts(300), (one, other) => {
      expect(probabilitiesOfBest([one, other])[1]).toBeCloseTo(exact(one, other), 4);
    }),
    { numRuns: 60 },
  );
});

test('for three alike it is a third each; they add up to one, and a reply more makes one likelier', () => {
  const alike = { n: 3, of: 40 };
  for (const part of probabilitiesOfBest([alike, alike, alike])) expect(part).toBeCloseTo(1 / 3, 6);
  fc.assert(
    fc.property(counts(200), counts(200), counts(200), (one, two, three) => {
      const before = probabilitiesOfBest([one, two, three]);
      expect(before.reduce((sum, part) => sum + part, 0)).toBeCloseTo(1, 9);
      const after = probabilitiesOfBest([{ n: one.n + 1, of: one.of + 1 }, two, three]);
      expect(after[0]!).toBeGreaterThanOrEqual(before[0]! - 1e-9);
    }),
    { numRuns: 25 },
  );
});

test('very many messages are as well told apart as few', () => {
  const [, better] = probabilitiesOfBest([
    { n: 50_000, of: 100_000 },
    { n: 50_400, of: 100_000 },
  ]);
  expect(better).toBeCloseTo(exactNormal(0.5, 0.504, 100_000), 3);
});

/** With as many, both are as good as normal. */
function exactNormal(p: number, q: number, n: number): number {
  const z = (q - p) / Math.sqrt((p * (1 - p) + q * (1 - q)) / n);
  const steps = 20_000;
  let sum = 0;
  for (let i = 0; i < steps; i += 1) sum += Math.exp(-((((i + 0.5) / steps) * z) ** 2) / 2) * (z / steps);
  return 0.5 + sum / Math.sqrt(2 * Math.PI);
}

// Without the correction for continuity; Fleiss, Levin, Paik 2003, section 4.1, and every table made by the same formula.
test.each([
  [0.1, 0.2, 199],
  [0.05, 0.1, 435],
  [0.5, 0.6, 388],
  [0.2, 0.4, 82],
])('to tell %d from %d it takes %d of each', (p, q, each) => {
  expect(sampleSize(p, q)).toBe(each);
  expect(sampleSize(q, p)).toBe(each);
});

test('what is missing is said, and nothing where nothing is', () => {
  expect(messagesNeeded({ n: 1, of: 8 }, { n: 3, of: 8 })).toBe(2 * (sampleSize(0.2, 0.4) - 8));
  expect(messagesNeeded({ n: 2, of: 8 }, { n: 2, of: 8 })).toBeNull();
  expect(messagesNeeded({ n: 100, of: 1000 }, { n: 300, of: 1000 })).toBeNull();
});
