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

test('the estimate is the posterior mean of three levels, neighbours counted by half', () => {
  // Two looks on Tuesday at 10; nothing of anybody else: each level but the last stays even.
  const found = bestHour({ own: looks(2, 10, 2), firm: [], all: [] }, ZONE, NOW)!;
  // (2 looks × half of each within the hour + 15 × 1/168) / (2 + 15)
  expect(found.likelihood).toBeCloseTo((1 + 15 / 168) / 17, 10);
  // One level up: everybody’s looks are the prior.
  const all = (1.5 + 40 / 168) / 43;
  const firm = (1 + 20 * all) / 22;
  const own = (0.5 + 15 * firm) / 16;
  const levels = { own: looks(2, 10, 1), firm: looks(2, 10, 2), all: looks(2, 10, 3) };
  expect(bestHour(levels, ZONE, NOW)!.likelihood).toBeCloseTo(own, 10);
});

test('what it rests on is told: fairly sure from as many looks of their own as others weigh', () => {
  const basis = (own: number, firm = 0, all = 0) =>
    bestHour({ own: looks(2, 10, own), firm: looks(2, 10, firm), all: looks(2, 10, all) }, ZONE, NOW)!.basis;
  expect(basis(15)).toBe('From 15 looks of their own: fairly sure.');
  expect(basis(14)).toBe('From 14 looks of their own, and otherwise from others: a hint.');
  expect(basis(0, 1, 5)).toBe('Nothing is known of them: from 1 look by others of their firm.');
  expect(basis(0, 0, 5)).toBe('Nothing is known of them: from 5 looks by everybody.');
});

test('an hour that is hardly likelier than any other is told without a number', () => {
  const best = { weekday: 0, hour: 8, at: NOW, basis: '' };
  expect(bestHourSentence({ ...best, likelihood: 1.4 / 168 })).toBe('Monday around 08:00');
  expect(bestHourSentence({ ...best, likelihood: 4.04 / 168 })).toBe(
    'Monday around 08:00, 4 times likelier than an hour chosen blindly',
  );
});

test('the week goes round: late on Sunday is beside early on Monday', () => {
  const early = bestHour({ own: [...looks(7, 23, 3), ...looks(1, 1, 3)], firm: [], all: [] }, ZONE, NOW)!;
  expect([early.weekday, early.hour]).toEqual([0, 0]);
});
