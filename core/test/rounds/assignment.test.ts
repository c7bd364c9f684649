import fc from 'fast-check';
import { assignWordings } from '@kiraku/core/rounds';

const people = fc.integer({ min: 0, max: 500 });
const wordings = fc.integer({ min: 1, max: 3 });
const seeds = fc.integer({ min: 1, max: 2 ** 31 - 1 });

test('each wording goes to as many as any other, or to one more, wherever a round ends', () => {
  fc.assert(
    fc.property(people, wordings, seeds, (count, kinds, seed) => {
      const assigned = assignWordings(count, kinds, seed);
      expect(assigned).toHaveLength(count);
      const times = Array.from({ length: kinds }, (_, kind) => assigned.filter((one) => one === kind).length);
      expect(times.reduce((sum, one) => sum + one, 0)).toBe(count);
      expect(Math.max(...times) - Math.min(...times)).toBeLessThanOrEqual(1);
    }),
  );
});

test('those who are added later change nothing for the others', () => {
  fc.assert(
    fc.property(people, people, wordings, seeds, (one, more, kinds, seed) => {
      expect(assignWordings(one + more, kinds, seed).slice(0, one)).toEqual(assignWordings(one, kinds, seed));
    }),
  );
});

test('whoever comes first gets each wording about as often, and by another seed another', () => {
  const firsts = Array.from({ length: 3000 }, (_, seed) => assignWordings(12, 2, seed * 7919 + 1));
  const share = firsts.filter(([first]) => first === 0).length / firsts.length;
  expect(share).toBeGreaterThan(0.46);
  expect(share).toBeLessThan(0.54);
  expect(new Set(firsts.map(String)).size).toBeGreaterThan(60);
});
