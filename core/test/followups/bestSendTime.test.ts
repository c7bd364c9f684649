import { bestSendTimeText } from '@kiraku/core/sentences';
import { bestSendTime } from '@kiraku/core/followups';
import fc from 'fast-check';
import { DateTime } from 'luxon';

const ZONE = 'Europe/Helsinki';
const NOW = DateTime.fromISO('2026-11-25T12:20', { zone: ZONE }).toMillis();
/** So many opens on a weekday (from Monday, 1) at an hour, week after week into the past. */
const readTimes = (weekday: number, hour: number, count: number) =>
  Array.from({ length: count }, (_, week) =>
    DateTime.fromISO('2026-11-20T00:00', { zone: ZONE })
      .minus({ weeks: week })
      .set({ weekday: weekday as 1, hour, minute: 20 })
      .toMillis(),
  );

test('nothing is said where nothing is known', () => {
  expect(bestSendTime({ own: [], company: [], all: [] }, ZONE, NOW)).toBeNull();
});

test('with many opens of one’s own it is one’s own hour, whatever others do', () => {
  const found = bestSendTime({ own: readTimes(2, 10, 40), company: [], all: readTimes(4, 16, 500) }, ZONE, NOW)!;
  expect([found.weekday, found.hour]).toEqual([1, 10]);
  expect(found.basis).toMatch(/40 opens and clicks of their own: fairly sure/);
  expect(DateTime.fromMillis(found.at, { zone: ZONE }).toFormat('ccc d LLL HH:mm')).toBe('Tue 1 Dec 10:00');
  expect(bestSendTimeText(found)).toMatch(/^Tuesday around 10:00, \d/);
});

test('with few, others’ hour stands, and it is said so', () => {
  const found = bestSendTime(
    { own: readTimes(2, 10, 1), company: readTimes(4, 16, 30), all: readTimes(4, 16, 200) },
    ZONE,
    NOW,
  )!;
  expect([found.weekday, found.hour]).toEqual([3, 16]);
  expect(found.basis).toMatch(/1 open or click of their own, and on others: a hint/);
  expect(bestSendTime({ own: [], company: readTimes(4, 16, 3), all: [] }, ZONE, NOW)!.basis).toMatch(
    /others at their company/,
  );
});

test('what is known of others counts less, the more is known of oneself', () => {
  const probability = (own: number) =>
    bestSendTime({ own: readTimes(2, 10, own), company: [], all: readTimes(4, 16, 100) }, ZONE, NOW)!;
  expect(probability(0).weekday).toBe(3);
  expect(probability(60).weekday).toBe(1);
  expect(probability(60).probability).toBeGreaterThan(probability(20).probability);
});

test('of all hours of a week it is the most likely, and no likelihood is more than one', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: NOW - 400 * 86_400_000, max: NOW }), { minLength: 1, maxLength: 40 }),
      (own) => {
        const found = bestSendTime({ own, company: [], all: own }, ZONE, NOW)!;
        expect(found.probability).toBeGreaterThanOrEqual(1 / 168);
        expect(found.probability).toBeLessThanOrEqual(1);
        const at = DateTime.fromMillis(found.at, { zone: ZONE });
        expect([at.weekday - 1, at.hour]).toEqual([found.weekday, found.hour]);
        expect(found.at).toBeGreaterThan(NOW);
      },
    ),
  );
});

test('zones that are half an hour off have hours, too', () => {
  const at = bestSendTime({ own: readTimes(2, 10, 40), company: [], all: [] }, 'Asia/Kathmandu', NOW)!.at;
  expect(DateTime.fromMillis(at, { zone: 'Asia/Kathmandu' }).minute).toBe(0);
  expect(at).toBeGreaterThan(NOW);
});

test('the estimate is the posterior mean of three levels, neighbours counted by half', () => {
  // Two opens on Tuesday at 10; nothing of anybody else: each level but the last stays even.
  const found = bestSendTime({ own: readTimes(2, 10, 2), company: [], all: [] }, ZONE, NOW)!;
  // (2 opens × half of each within the hour + 15 × 1/168) / (2 + 15)
  expect(found.probability).toBeCloseTo((1 + 15 / 168) / 17, 10);
  // One level up: everybody’s opens are the prior.
  const all = (1.5 + 40 / 168) / 43;
  const company = (1 + 20 * all) / 22;
  const own = (0.5 + 15 * company) / 16;
  const levels = { own: readTimes(2, 10, 1), company: readTimes(2, 10, 2), all: readTimes(2, 10, 3) };
  expect(bestSendTime(levels, ZONE, NOW)!.probability).toBeCloseTo(own, 10);
});

test('what it rests on is said: fairly sure from as many opens of their own as others weigh', () => {
  const basis = (own: number, company = 0, all = 0) =>
    bestSendTime(
      { own: readTimes(2, 10, own), company: readTimes(2, 10, company), all: readTimes(2, 10, all) },
      ZONE,
      NOW,
    )!.basis;
  expect(basis(15)).toBe('Based on 15 opens and clicks of their own: fairly sure.');
  expect(basis(14)).toBe('Based on 14 opens and clicks of their own, and on others: a hint.');
  expect(basis(0, 1, 5)).toBe('Nothing is known of them yet: based on 1 open or click by others at their company.');
  expect(basis(0, 0, 5)).toBe('Nothing is known of them yet: based on 5 opens and clicks by everybody.');
});

test('an hour that is hardly likelier than any other is given without a number', () => {
  const best = { weekday: 0, hour: 8, at: NOW, basis: '' };
  expect(bestSendTimeText({ ...best, probability: 1.4 / 168 })).toBe('Monday around 08:00');
  expect(bestSendTimeText({ ...best, probability: 4.04 / 168 })).toBe(
    'Monday around 08:00, 4 times as likely as an average hour',
  );
});

test('the week goes round: late on Sunday is beside early on Monday', () => {
  const early = bestSendTime(
    { own: [...readTimes(7, 23, 3), ...readTimes(1, 1, 3)], company: [], all: [] },
    ZONE,
    NOW,
  )!;
  expect([early.weekday, early.hour]).toEqual([0, 0]);
});
