import fc from 'fast-check';
import { DateTime } from 'luxon';
import { clockChanges, dayStart, hourOfWeek, HOUR } from '@kiraku/core/time';

const ZONES = [
  'Europe/Helsinki',
  'America/New_York',
  'Australia/Lord_Howe',
  'Africa/Casablanca',
  'Asia/Kolkata',
  'UTC',
];

test('weekday and hour are those of the zone’s calendar, at any moment of this century', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: Date.UTC(1990, 0), max: Date.UTC(2099, 11) }),
      fc.constantFrom(...ZONES),
      (at, zone) => {
        const { weekday, hour, localMs } = hourOfWeek(at, zone);
        const there = DateTime.fromMillis(at, { zone });
        expect([weekday, hour, localMs]).toEqual([there.weekday - 1, there.hour, at + there.offset * 60_000]);
      },
    ),
    { numRuns: 500 },
  );
});

test('the clocks are set at the very moment', () => {
  const changes = clockChanges('Europe/Helsinki', Date.UTC(2026, 11));
  expect(changes.find(({ from }) => from > Date.UTC(2026, 5))).toEqual({
    from: Date.UTC(2026, 9, 25, 1),
    offsetMs: 2 * HOUR,
  });
  // By half an hour, at half past three by UTC.
  expect(clockChanges('Australia/Lord_Howe', Date.UTC(2026, 11)).find(({ from }) => from > Date.UTC(2026, 5))).toEqual({
    from: Date.UTC(2026, 9, 3, 15, 30),
    offsetMs: 11 * HOUR,
  });
  expect(clockChanges('UTC', Date.UTC(2026, 11))).toHaveLength(1);
});

test('a day begins at its first moment, also where that is no midnight', () => {
  // In Cairo the clocks leap over midnight into 24 April 2026.
  expect(dayStart(Date.UTC(2026, 3, 24, 12), 'Africa/Cairo')).toBe(Date.UTC(2026, 3, 23, 22));
  expect(dayStart(Date.UTC(2026, 9, 26, 12), 'Europe/Helsinki', -1)).toBe(Date.UTC(2026, 9, 24, 21));
});
