import { bestHour, bestHourSentence } from '@kiraku/core/followups';
import fc from 'fast-check';
import { DateTime } from 'luxon';

const ZONE = 'Europe/Helsinki';
const NOW = DateTime.fromISO('2026-11-25T12:20', { zone: ZONE }).toMillis();
/** So many looks on a weekday (from Monday, 1) at an hour, week after week into the past. */
const looks = (weekday: number, hour: number, count: number) =>
  Array.from({ length: count }, (_, week) =>
    DateTime.fromISO('2026-11-20T00:00', { zone: ZONE })
      .minus({ weeks: week })
      .set({ weekday: weekday as 1, hour, minute: 20 })
      .toMillis(),
  );

test('nothing is said where nothing is known', () => {
  expect(bestHour({ own: [], firm: [], all: [] }, ZONE, NOW)).toBeNull();
});

test('with many looks of one’s own it is one’s own hour, whatever others do', () => {
  const found = bestHour({ own: looks(2, 10, 40), firm: [], all: looks(4, 16, 500) }, ZONE, NOW)!;
  expect([found.weekday, found.hour]).toEqual([1, 10]);
  expect(found.basis).toMatch(/40 looks of their own: fairly sure/);
  expect(DateTime.fromMillis(found.at, { zone: ZONE }).toFormat('ccc d LLL HH:mm')).toBe('Tue 1 Dec 10:00');
  expect(bestHourSentence(found)).toMatch(/^Tuesday around 10:00, \d/);
});

test('with few, others’ hour stands, and it is said so', () => {
  const found = bestHour({ own: looks(2, 10, 1), firm: looks(4, 16, 30), all: looks(4, 16, 200) }, ZONE, NOW)!;
  expect([found.weekday, found.hour]).toEqual([3, 16]);
  expect(found.basis).toMatch(/1 look of their own, and otherwise from others: a hint/);
  expect(bestHour({ own: [], firm: looks(4, 16, 3), all: [] }, ZONE, NOW)!.basis).toMatch(/others of their firm/);
});

test('what is known of others counts less, the more is known of oneself', () => {
  const likelihood = (own: number) =>
    bestHour({ own: looks(2, 10, own), firm: [], all: looks(4, 16, 100) }, ZONE, NOW)!;
  expect(likelihood(0).weekday).toBe(3);
  expect(likelihood(60).weekday).toBe(1);
  expect(likelihood(60).likelihood).toBeGreaterThan(likelihood(20).likelihood);
});

test('of all hours of a week it is the likeliest, and no likelihood is more than one', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: NOW - 400 * 86_400_000, max: NOW }), { minLength: 1, maxLength: 40 }),
      (own) => {
        const found = bestHour({ own, firm: [], all: own }, ZONE, NOW)!;
        expect(found.likelihood).toBeGreaterThanOrEqual(1 / 168);
        expect(found.likelihood).toBeLessThanOrEqual(1);
        const at = DateTime.fromMillis(found.at, { zone: ZONE });
        expect([at.weekday - 1, at.hour]).toEqual([found.weekday, found.hour]);
        expect(found.at).toBeGreaterThan(NOW);
      },
    ),
  );
});

test('zones that are half an hour off have hours, too', () => {
  const at = bestHour({ own: looks(2, 10, 40), firm: [], all: [] }, 'Asia/Kathmandu', NOW)!.at;
  expect(DateTime.fromMillis(at, { zone: 'Asia/Kathmandu' }).minute).toBe(0);
  expect(at).toBeGreaterThan(NOW);
});
