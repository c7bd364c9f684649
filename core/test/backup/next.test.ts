import fc from 'fast-check';
import { nextBackupAt } from '@kiraku/core/backup';
import { DAY, HOUR } from '@kiraku/core/time';

const at = (day: number, hour: number, minute = 0) => new Date(2026, 11, day, hour, minute).getTime();

test.each([
  ['in the night after one that was asked for by day', at(3, 14), at(4, 3)],
  ['in the same night where the last was before its hour', at(3, 1), at(3, 3)],
  ['a day after the last one of a night', at(3, 3, 1), at(4, 3)],
])('the next is due %s', (_when, last, next) => {
  expect(nextBackupAt(last, last)).toBe(next);
});

test('without any it is due at once, and one that was missed stays due', () => {
  expect(nextBackupAt(null, at(3, 14))).toBe(at(3, 14));
  expect(nextBackupAt(at(1, 4), at(9, 14))).toBe(at(2, 3));
});

test('it is always later than the last one, by a day at most, also where clocks change', () => {
  fc.assert(
    fc.property(fc.integer({ min: Date.UTC(2020, 0), max: Date.UTC(2040, 0) }), (last) => {
      const next = nextBackupAt(last, last);
      expect(next).toBeGreaterThan(last);
      expect(next - last).toBeLessThanOrEqual(DAY + HOUR);
    }),
  );
});
