import fc from 'fast-check';
import type { RoundPace } from '@kiraku/core/contract';
import { DEFAULT_PACE, paceProblem, planTimes } from '@kiraku/core/rounds';
import { hourOfWeek, HOUR, MINUTE } from '@kiraku/core/time';

const ZONES = ['Europe/Helsinki', 'America/New_York', 'Asia/Kathmandu', 'Pacific/Auckland', 'UTC'];
const members = fc.array(fc.record({ zone: fc.constantFrom(...ZONES), bestAt: fc.constant(null) }), { maxLength: 40 });
const moments = fc.integer({ min: Date.UTC(2026, 0), max: Date.UTC(2027, 0) });
const paces = fc
  .record({
    perHour: fc.integer({ min: 1, max: 600 }),
    fromHour: fc.integer({ min: 0, max: 22 }),
    hours: fc.integer({ min: 1, max: 24 }),
    weekdays: fc.uniqueArray(fc.integer({ min: 0, max: 6 }), { minLength: 1 }),
  })
  .map(({ hours, ...pace }): Omit<RoundPace, 'zone'> => ({
    kind: 'hourly',
    ...pace,
    toHour: Math.min(pace.fromHour + hours, 24),
  }));

test('everybody has a time within the hours and weekdays of their own clocks, in their order, and as far apart as wanted', () => {
  fc.assert(
    fc.property(members, paces, moments, (waiting, pace, from) => {
      const times = planTimes(waiting, pace, from);
      expect(times).toHaveLength(waiting.length);
      const isOpen = (at: number, index: number) => {
        const { weekday, hour } = hourOfWeek(at, waiting[index]!.zone);
        return pace.weekdays.includes(weekday) && hour >= pace.fromHour && hour < pace.toHour;
      };
      times.forEach((at, index) => {
        expect(isOpen(at, index)).toBe(true);
        expect(at).toBeGreaterThanOrEqual(from);
        // Only whose day has not begun lets somebody behind go first.
        times.slice(0, index).forEach((before, other) => expect(before < at || !isOpen(at, other)).toBe(true));
      });
      const sorted = [...times].sort((a, b) => a - b);
      const gap = HOUR / pace.perHour;
      sorted.slice(1).forEach((at, index) => expect(at - sorted[index]!).toBeGreaterThanOrEqual(gap - 1e-3));
    }),
    { numRuns: 60 },
  );
});

test('of a day that has begun nothing is lost: the first leaves at once, the others follow', () => {
  const monday = Date.UTC(2026, 10, 30, 9, 30);
  const waiting = Array.from({ length: 10 }, () => ({ zone: 'UTC', bestAt: null }));
  const times = planTimes(waiting, { ...DEFAULT_PACE, perHour: 4 }, monday);
  expect(times.slice(0, 6)).toEqual([0, 15, 30, 45, 60, 75].map((minutes) => monday + minutes * MINUTE));
  expect(times[6]).toBe(Date.UTC(2026, 11, 1, 9));
});

test('whose day has begun goes before those whose day has not', () => {
  const from = Date.UTC(2026, 10, 30, 8, 0);
  const waiting = [
    { zone: 'America/New_York', bestAt: null },
    { zone: 'Europe/Helsinki', bestAt: null },
  ];
  expect(planTimes(waiting, DEFAULT_PACE, from)).toEqual([Date.UTC(2026, 10, 30, 14), from]);
});

test('each at their best time, and not before now; of whom nothing is known, by the hours', () => {
  const from = Date.UTC(2026, 10, 30, 12);
  const waiting = [
    { zone: 'UTC', bestAt: from + 5 * HOUR },
    { zone: 'UTC', bestAt: null },
    { zone: 'UTC', bestAt: from - HOUR },
  ];
  const times = planTimes(waiting, { ...DEFAULT_PACE, kind: 'best-time' }, from);
  expect(times).toEqual([from + 5 * HOUR, Date.UTC(2026, 11, 1, 9), from]);
});

test('all at once leaves at once, until the mail server asks to wait', () => {
  const waiting = Array.from({ length: 3 }, () => ({ zone: 'UTC', bestAt: null }));
  const pace = { ...DEFAULT_PACE, kind: 'at-once' as const };
  expect(planTimes(waiting, pace, 1000)).toEqual([1000, 1000, 1000]);
  expect(planTimes(waiting, pace, 1000, 4)).toEqual([1000, 1000 + 4 * MINUTE, 1000 + 8 * MINUTE]);
});

test.each([
  [{ weekdays: [] }, /weekday/],
  [{ fromHour: 11 }, /before/],
  [{ perHour: 0 }, /an hour/],
  [{}, null],
  [{ kind: 'at-once' as const, weekdays: [] }, null],
])('a pace by which nothing leaves is refused: %j', (change, problem) => {
  const said = paceProblem({ ...DEFAULT_PACE, ...change });
  if (problem === null) expect(said).toBeNull();
  else expect(said).toMatch(problem);
});
