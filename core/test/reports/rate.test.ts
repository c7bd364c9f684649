import fc from 'fast-check';
import { compare, rateOf } from '@kiraku/core/reports';

// Newcombe 1998, Statistics in Medicine 17, 857–872 (single proportions), table I, method 3; there with four decimals.
test.each([
  [81, 263, 0.2553, 0.3662],
  [15, 148, 0.0624, 0.1605],
  [0, 20, 0, 0.1611],
  [1, 29, 0.0061, 0.1718],
])('the interval of %d of %d is that of the literature', (n, of, low, high) => {
  const rate = rateOf(n, of);
  expect(rate.low).toBeCloseTo(low, 4);
  expect(rate.high).toBeCloseTo(high, 4);
});

// Newcombe 1998, Statistics in Medicine 17, 873–890 (differences), table II, method 10, with 95 per cent.
test.each([
  [56, 70, 48, 80, 0.0524, 0.3339],
  [9, 10, 3, 10, 0.1705, 0.809],
  [6, 7, 2, 7, 0.0582, 0.8062],
  [5, 56, 0, 29, -0.0381, 0.1926],
  [0, 10, 0, 20, -0.1611, 0.2775],
  [10, 10, 0, 10, 0.6075, 1],
])('the difference of %d/%d and %d/%d lies where the literature has it', (n, of, m, other, low, high) => {
  const comparison = compare({ n, of }, { n: m, of: other }, 1.959963984540054)!;
  expect(comparison.low).toBeCloseTo(low, 3);
  expect(comparison.high).toBeCloseTo(high, 3);
});

const counts = fc
  .integer({ min: 1, max: 500 })
  .chain((of) => fc.record({ n: fc.integer({ min: 0, max: of }), of: fc.constant(of) }));

test('the share lies in its interval, which keeps within nought and one and narrows with more of the same', () => {
  fc.assert(
    fc.property(counts, fc.integer({ min: 2, max: 20 }), ({ n, of }, times) => {
      const { share, low, high } = rateOf(n, of);
      expect(0 <= low && low <= share! && share! <= high && high <= 1).toBe(true);
      const more = rateOf(n * times, of * times);
      expect(more.high - more.low).toBeLessThan(high - low);
    }),
  );
});

test('the other way round, a difference is the same with its sign turned', () => {
  fc.assert(
    fc.property(counts, counts, (one, other) => {
      const [there, back] = [compare(one, other)!, compare(other, one)!];
      expect(there.low <= there.difference && there.difference <= there.high).toBe(true);
      expect(back.difference).toBeCloseTo(-there.difference, 10);
      expect(back.low).toBeCloseTo(-there.high, 10);
    }),
  );
});
