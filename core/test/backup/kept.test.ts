import fc from 'fast-check';
import { keptBackups } from '@kiraku/core/backup';
import { DAY, HOUR } from '@kiraku/core/time';

const times = fc.uniqueArray(fc.integer({ min: Date.UTC(2024, 0), max: Date.UTC(2026, 11) }), { maxLength: 400 });
const noon = (month: number, day: number) => new Date(2026, month, day, 12).getTime();

test('of a backup each night for two years, seven days, four weeks and twelve months are left', () => {
  // A Thursday; weeks begin on Sundays here.
  const last = noon(11, 3);
  const nights = Array.from({ length: 730 }, (_, night) => new Date(2026, 11, 3 - night, 12).getTime());
  const kept = keptBackups(nights);
  const days = [3, 2, 1, 0, -1, -2, -3].map((day) => noon(11, day));
  // Of the weeks before this one and the last, whose newest are among the days.
  const weeks = [noon(10, 21), noon(10, 14)];
  const months = Array.from({ length: 11 }, (_, ago) => noon(11 - ago, 0));
  expect(kept).toEqual([...new Set([...days, ...weeks, ...months])].sort((a, b) => b - a));
  expect(kept[0]).toBe(last);
});

test('of several on one day the newest is kept, of whichever day it is', () => {
  const [early, late] = [noon(5, 1), noon(5, 1) + HOUR];
  expect(keptBackups([early, late])).toEqual([late]);
  expect(keptBackups([early - 400 * DAY, early])).toEqual([early, early - 400 * DAY]);
  expect(keptBackups([])).toEqual([]);
});

test('the newest is always kept, no more than 23 are, and what was let go once is wanted by no later choice', () => {
  fc.assert(
    fc.property(times, (made) => {
      const kept = keptBackups(made);
      expect(kept.length).toBeLessThanOrEqual(7 + 4 + 12);
      if (made.length > 0) expect(kept[0]).toBe(Math.max(...made));
      expect(new Set(made)).toEqual(new Set([...made, ...kept]));
      expect(keptBackups(kept)).toEqual(kept);
    }),
  );
});
