import { DateTime } from 'luxon';
import fc from 'fast-check';
import { occurrencesSentence, recurrencePatterns } from '@kiraku/core/sentences';
import { endingRule, nextOccurrence, occurrences, recurrenceProblem } from '@kiraku/core/time';

const zone = 'Europe/Stockholm';
const start = fc
  .integer({ min: 0, max: 365 * 28 })
  .map((days) => DateTime.fromISO('2026-01-01T09:30', { zone }).plus({ days }));
const patternsOf = (at: DateTime) => recurrencePatterns({ weekday: at.weekday - 1, day: at.day });

test('every way to repeat that is offered can be used, on whatever day', () => {
  fc.assert(
    fc.property(start, (at) => {
      for (const [rule] of patternsOf(at).slice(1)) {
        expect([rule, recurrenceProblem({ rule, zone })]).toEqual([rule, null]);
        expect(nextOccurrence({ rule, zone }, at.toMillis())).not.toBeNull();
      }
    }),
    { numRuns: 60 },
  );
});

test('a way that names a weekday keeps to it, and to its place in the month', () => {
  fc.assert(
    fc.property(start, (at) => {
      for (const [rule, text] of patternsOf(at).filter(([, one]) => /(?:every|the) .*day$/i.test(one))) {
        if (text === 'Every day' || text === 'Every working day') continue;
        const { weekdayLong, day, daysInMonth } = DateTime.fromMillis(
          nextOccurrence({ rule, zone }, at.toMillis())!.at,
          { zone, locale: 'en' },
        );
        expect(text).toMatch(new RegExp(`${weekdayLong}$`));
        if (text.includes('last')) expect(day).toBeGreaterThan(daysInMonth! - 7);
        else if (text.startsWith('Monthly')) expect(Math.ceil(day / 7)).toBe(Math.ceil(at.day / 7));
      }
    }),
    { numRuns: 60 },
  );
});

test('the ways are named after the day', () => {
  const texts = recurrencePatterns({ weekday: 1, day: 24 }).map(([, text]) => text);
  expect(texts).toEqual([
    'Once',
    'Every day',
    'Every working day',
    'Every Tuesday',
    'Every second Tuesday',
    'Monthly, on day 24',
    'Monthly, on the fourth Tuesday',
    'Monthly, on the last Tuesday',
    'Every year',
  ]);
});

test('a rule ends after a number of times, on a day, or never', () => {
  const from = Date.UTC(2026, 10, 24, 9);
  const last = Date.UTC(2026, 10, 26, 22, 59, 59, 999);
  const times = (rule: string) => occurrences({ rule, zone }, from, 10).length;
  expect(times(endingRule('FREQ=DAILY', { count: 3 }))).toBe(3);
  expect(times(endingRule('FREQ=DAILY', { untilAt: last }))).toBe(3);
  expect(times(endingRule('FREQ=DAILY', null))).toBe(10);
  expect(endingRule('FREQ=DAILY', { untilAt: last })).toBe('FREQ=DAILY;UNTIL=20261126T225959Z');
});

test('the next times are said, and whether more follow', () => {
  const from = new Date(2026, 10, 24, 9).getTime();
  expect(occurrencesSentence([from], true)).toMatch(/^Sent [^;]*24[^;]*\.$/);
  expect(occurrencesSentence([from, from + 86_400_000], false)).toMatch(/^Sent .*24.*; .*25.* …$/);
});
