import fc from 'fast-check';
import { HOUR, MINUTE, momentOf, wallTimeAt, type WallTime } from '@kiraku/core/time';

const time = (text: string): WallTime => {
  const [year, month, day, hour, minute] = text.split(/[-T:]/).map(Number) as [number, number, number, number, number];
  return { year, month, day, hour, minute };
};

test.each([
  ['an ordinary day', '2026-11-25T09:00', 'Europe/Helsinki', '2026-11-25T07:00Z'],
  ['summer time', '2026-07-01T09:00', 'Europe/Helsinki', '2026-07-01T06:00Z'],
  ['another day over there', '2026-11-25T01:00', 'Asia/Tokyo', '2026-11-24T16:00Z'],
  ['half an hour apart', '2026-11-25T09:00', 'Asia/Kolkata', '2026-11-25T03:30Z'],
  ['leapt over in spring', '2026-03-29T02:30', 'Europe/Berlin', '2026-03-29T01:30Z'],
  ['twice in autumn: the first', '2026-10-25T02:30', 'Europe/Berlin', '2026-10-25T00:30Z'],
  ['the day after the change', '2026-03-30T09:00', 'Europe/Berlin', '2026-03-30T07:00Z'],
  ['the day before the change', '2026-03-28T09:00', 'Europe/Berlin', '2026-03-28T08:00Z'],
])('%s: %s in %s', (_name, local, zone, utc) => {
  expect(new Date(momentOf(time(local), zone)).toISOString()).toBe(new Date(utc).toISOString());
});

test.each([
  ['2026-02-30T09:00', 'Europe/Berlin'],
  ['2026-11-25T25:00', 'Europe/Berlin'],
  ['2026-11-25T09:00', 'Europe/Nowhere'],
])('%s in %s is no time', (local, zone) => {
  expect(() => momentOf(time(local), zone)).toThrow(RangeError);
});

test('what the clocks show leads back to the moment, but for the hour that comes twice', () => {
  const zones = ['Europe/Berlin', 'America/New_York', 'Australia/Lord_Howe', 'Asia/Kathmandu', 'UTC', 'Pacific/Apia'];
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 4_000_000 }), fc.constantFrom(...zones), (step, zone) => {
      const at = 1_500_000_000_000 - (1_500_000_000_000 % MINUTE) + step * 5 * MINUTE;
      const back = momentOf(wallTimeAt(at, zone), zone);
      expect(at - back === 0 || at - back === HOUR || at - back === HOUR / 2).toBe(true);
    }),
  );
});
