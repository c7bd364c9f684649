import fc from 'fast-check';
import { conversionMs, conversionPercent } from '@kiraku/core/files';

test('a conversion goes on with time, and is never said to be done before it is', () => {
  const ms = fc.integer({ min: 0, max: 600_000 });
  fc.assert(
    fc.property(ms, ms, fc.integer({ min: 1, max: 600_000 }), (one, other, expected) => {
      const [sooner, later] = [Math.min(one, other), Math.max(one, other)];
      expect(conversionPercent(sooner, expected)).toBeLessThanOrEqual(conversionPercent(later, expected));
      expect(conversionPercent(later, expected)).toBeLessThan(100);
    }),
  );
});

test.each([
  [-5, 0],
  [0, 0],
  [2500, 25],
  [5000, 50],
  [9000, 90],
  [10_000, 90],
  [20_000, 96],
])('%d ms of 10 s are %d %%', (elapsedMs, percent) => {
  expect(conversionPercent(elapsedMs, 10_000)).toBe(percent);
});

test('a larger document is expected to take longer', () => {
  expect(conversionMs(0)).toBe(4000);
  expect(conversionMs(10_000_000)).toBe(34_000);
});
