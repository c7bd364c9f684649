import fc from 'fast-check';
import {
  clockWords,
  counted,
  dateWords,
  DAY,
  durationWords,
  exactWords,
  HOUR,
  MINUTE,
  SECOND,
  shortWords,
  WEEK,
  whenWords,
} from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 24, 12, 0);

test.each([
  [0, 'open', undefined, '0 opens'],
  [1, 'open', undefined, '1 open'],
  [2, 'open', undefined, '2 opens'],
  [2, 'automatic request', 'automatic requests', '2 automatic requests'],
])('%s %s: %s', (count, one, many, words) => {
  expect(counted(count, one, many)).toBe(words);
});

test.each([
  [0, 'a moment'],
  [999, 'a moment'],
  [SECOND, '1 second'],
  [59 * SECOND, '59 seconds'],
  [MINUTE, '1 minute'],
  [41 * MINUTE, '41 minutes'],
  [HOUR, '1 hour'],
  [DAY - 1, '23 hours'],
  [6 * DAY, '6 days'],
  [20 * DAY, '20 days'],
  [3 * WEEK, '3 weeks'],
  [40 * DAY, '5 weeks'],
])('%d ms is %s', (durationMs, words) => {
  expect(durationWords(durationMs)).toBe(words);
});

test.each([
  [-10 * SECOND, 'just now'],
  [44 * SECOND, 'just now'],
  [45 * SECOND, '1 minute ago'],
  [12 * MINUTE, '12 minutes ago'],
  [23 * HOUR, '23 hours ago'],
  [DAY, 'on 23 Nov'],
  [22 * DAY, 'on 2 Nov'],
  [400 * DAY, 'on 20 Oct 2025'],
])('%d ms ago: %s', (ageMs, words) => {
  expect(whenWords(NOW - ageMs, NOW, 'UTC')).toBe(words);
});

test.each([
  [HOUR, '11:00'],
  [13 * HOUR, 'Mon 23:00'],
  [5 * DAY, 'Thu 12:00'],
  [6 * DAY, '18 Nov'],
])('in a list, %d ms ago: %s', (ageMs, words) => {
  expect(shortWords(NOW - ageMs, NOW, 'UTC')).toBe(words);
});

test('a day begins and ends by the clocks of the zone', () => {
  const late = Date.UTC(2026, 10, 23, 23, 30);
  expect(shortWords(late, NOW, 'UTC')).toBe('Mon 23:30');
  expect(shortWords(late, NOW, 'Asia/Tokyo')).toBe('08:30');
  expect(dateWords(late, NOW, 'Asia/Tokyo')).toBe('24 Nov');
  expect(clockWords(late, 'Asia/Kolkata')).toBe('05:00');
  expect(exactWords(late, 'UTC')).toBe('Mon, 23 Nov 2026, 23:30:00');
});

test('longer is never given as shorter, but for what the unit leaves out', () => {
  const lengths: [string, number][] = [
    ['week', WEEK],
    ['day', DAY],
    ['hour', HOUR],
    ['minute', MINUTE],
    ['second', SECOND],
  ];
  fc.assert(
    fc.property(fc.integer({ min: SECOND, max: 90 * DAY }), (durationMs) => {
      const [, number, unit] = /^(\d+) (week|day|hour|minute|second)s?$/.exec(durationWords(durationMs))!;
      const unitMs = lengths.find(([name]) => name === unit)![1];
      expect(Number(number) * unitMs).toBeLessThanOrEqual(durationMs);
      expect((Number(number) + 1) * unitMs).toBeGreaterThan(durationMs);
    }),
  );
});
