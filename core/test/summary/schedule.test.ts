import fc from 'fast-check';
import { lastSummaryAt, nextSummaryAt } from '@kiraku/core/summary';
import { DAY, HOUR, hourOfWeek, wallTimeAt, WEEK } from '@kiraku/core/time';

const ZONE = 'Europe/Helsinki';
/** Monday, 7 June 2027, 9:00 in Helsinki. */
const MONDAY = Date.UTC(2027, 5, 7, 6);
const WORKING_DAYS = { weekdays: [0, 1, 2, 3, 4], time: '07:30', zone: ZONE };

test('on its weekdays, at its hour', () => {
  expect(lastSummaryAt(WORKING_DAYS, MONDAY)).toBe(Date.UTC(2027, 5, 7, 4, 30));
  expect(nextSummaryAt(WORKING_DAYS, MONDAY)).toBe(Date.UTC(2027, 5, 8, 4, 30));
  const sunday = MONDAY - DAY;
  expect(lastSummaryAt(WORKING_DAYS, sunday)).toBe(Date.UTC(2027, 5, 4, 4, 30));
  expect(nextSummaryAt(WORKING_DAYS, sunday)).toBe(Date.UTC(2027, 5, 7, 4, 30));
});

test('once a week, the next one is a week away at the very moment', () => {
  const weekly = { ...WORKING_DAYS, weekdays: [0], time: '09:00' };
  expect(lastSummaryAt(weekly, MONDAY)).toBe(MONDAY);
  expect(nextSummaryAt(weekly, MONDAY)).toBe(MONDAY + WEEK);
  expect(lastSummaryAt(weekly, MONDAY - 1)).toBe(MONDAY - WEEK);
});

test('on no weekday, never', () => {
  const never = { ...WORKING_DAYS, weekdays: [] };
  expect([lastSummaryAt(never, MONDAY), nextSummaryAt(never, MONDAY)]).toEqual([null, null]);
});

test('whenever it is asked, the one before and the next are on its weekdays at its hour, and none is between', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(fc.nat(6), { minLength: 1 }),
      fc.integer({ min: MONDAY - 2 * 365 * DAY, max: MONDAY }),
      fc.constantFrom(ZONE, 'America/New_York', 'Pacific/Auckland'),
      (weekdays, now, zone) => {
        const when = { weekdays, time: '09:30', zone };
        const [last, next] = [lastSummaryAt(when, now)!, nextSummaryAt(when, now)!];
        expect(last).toBeLessThanOrEqual(now);
        expect(next).toBeGreaterThan(now);
        for (const at of [last, next]) {
          expect(wallTimeAt(at, zone)).toMatchObject({ hour: 9, minute: 30 });
          expect(weekdays).toContain(hourOfWeek(at, zone).weekday);
        }
        expect(nextSummaryAt(when, last)).toBe(next);
        expect(next - last).toBeLessThanOrEqual(WEEK + HOUR);
      },
    ),
  );
});
