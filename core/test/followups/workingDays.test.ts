import { afterWorkingDays } from '@kiraku/core/followups';
import { DateTime } from 'luxon';

const ZONE = 'Europe/Amsterdam';
const at = (text: string) => DateTime.fromISO(text, { zone: ZONE }).toMillis();

test.each([
  ['a Monday', '2026-11-23T18:00', 1, '2026-11-24T09:30'],
  ['a Monday, two weeks on', '2026-11-23T08:00', 10, '2026-12-07T09:30'],
  ['a Thursday', '2026-11-26T10:00', 2, '2026-11-30T09:30'],
  ['a Friday', '2026-11-27T10:00', 1, '2026-11-30T09:30'],
  ['a Saturday', '2026-11-28T10:00', 1, '2026-11-30T09:30'],
  ['a Sunday night', '2026-11-29T23:59', 1, '2026-11-30T09:30'],
  ['the last days of summer time', '2026-10-23T12:00', 1, '2026-10-26T09:30'],
  ['the last days of a year', '2026-12-31T12:00', 1, '2027-01-01T09:30'],
])('from %s on', (_name, from, days, expected) => {
  expect(afterWorkingDays(at(from), days, '09:30', ZONE)).toBe(at(expected));
});

test('the time is that of the day, by the clocks of the zone', () => {
  expect(afterWorkingDays(at('2026-11-23T18:00'), 1, '17:05', ZONE)).toBe(at('2026-11-24T17:05'));
  expect(afterWorkingDays(Date.UTC(2026, 10, 23, 22, 30), 1, '00:00', 'Asia/Tokyo')).toBe(Date.UTC(2026, 10, 24, 15));
});
