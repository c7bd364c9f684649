import { readWhen, WHEN_SUGGESTIONS } from '@kiraku/core/followups';
import { DateTime } from 'luxon';
import fc from 'fast-check';

const ZONE = 'Europe/Helsinki';
/** A Wednesday, 12:20. */
const NOW = Date.UTC(2026, 10, 25, 10, 20);

const read = (words: string, now = NOW, zone = ZONE) => {
  const found = readWhen(words, now, zone);
  return 'at' in found ? DateTime.fromMillis(found.at, { zone }).toFormat('ccc d LLL HH:mm') : found.problem;
};

test.each([
  ['in 2 days', 'Fri 27 Nov 09:00'],
  ['in a week', 'Wed 2 Dec 09:00'],
  ['Thursday 9:00', 'Thu 26 Nov 09:00'],
  ['Thu 9', 'Thu 26 Nov 09:00'],
  ['next Monday', 'Mon 30 Nov 09:00'],
  ['wednesday', 'Wed 2 Dec 09:00'],
  ['tomorrow', 'Thu 26 Nov 09:00'],
  ['tomorrow at 14:30', 'Thu 26 Nov 14:30'],
  ['Friday afternoon', 'Fri 27 Nov 15:00'],
  ['8:00', 'Thu 26 Nov 08:00'],
  ['14 December at 10', 'Mon 14 Dec 10:00'],
  ['2026-12-01', 'Tue 1 Dec 09:00'],
  ['in 2 hours', 'Wed 25 Nov 14:20'],
  ['in 30 minutes', 'Wed 25 Nov 12:50'],
])('“%s” is %s', (words, expected) => expect(read(words)).toBe(expected));

test.each([
  ['', /Write it like/],
  ['soon enough', /not a time/],
  ['yesterday', /past/],
  ['in 20 years', /within a year/],
  ['Thursday 9:00 if it rains', /“if it rains” is not understood/],
  ['Monday to Wednesday', /not a time/],
  ['x'.repeat(200), /Write it like/],
])('“%s” is refused in words', (words, problem) => expect(read(words)).toMatch(problem));

test('a day keeps its hour over the change of the clocks, and a length of time its length', () => {
  const before = DateTime.fromObject({ year: 2026, month: 10, day: 24, hour: 12 }, { zone: ZONE }).toMillis();
  expect(read('tomorrow at 10:00', before)).toBe('Sun 25 Oct 10:00');
  expect(readWhen('in 24 hours', before, ZONE)).toEqual({ at: before + 24 * 3_600_000 });
  // In spring the clocks leap over half past three.
  const spring = DateTime.fromObject({ year: 2027, month: 3, day: 27, hour: 12 }, { zone: ZONE }).toMillis();
  expect(read('tomorrow at 3:30', spring)).toBe('Sun 28 Mar 04:30');
});

test('whatever is typed, the result is a time to come or a sentence', () => {
  const words = fc.oneof(
    fc.string({ maxLength: 60 }),
    fc
      .array(fc.constantFrom('in', '2', 'days', 'Thursday', '9:00', 'next', 'at', 'week', 'am', '30', 'Feb', '-'), {
        maxLength: 6,
      })
      .map((parts) => parts.join(' ')),
  );
  const zones = fc.constantFrom('Europe/Helsinki', 'America/St_Johns', 'Asia/Kathmandu', 'UTC');
  fc.assert(
    fc.property(words, zones, fc.integer({ min: NOW, max: NOW + 400 * 86_400_000 }), (text, zone, now) => {
      const found = readWhen(text, now, zone);
      if ('at' in found) expect(found.at).toBeGreaterThan(now);
      else expect(found.problem).not.toBe('');
    }),
  );
});

test('blanks around it and a day a year off are understood', () => {
  expect(read('  in 2 days  ')).toBe('Fri 27 Nov 09:00');
  expect(read('in 365 days')).toBe('Thu 25 Nov 09:00');
  expect(read('in 368 days')).toMatch(/within a year/);
  expect(read(`in 2 days${' '.repeat(200)}`)).toBe('Fri 27 Nov 09:00');
  expect(read('x'.repeat(100))).toMatch(/not a time/);
  expect(read('x'.repeat(101))).toMatch(/^Write it like/);
});

test('what is offered beside the field is understood, and differs', () => {
  expect(WHEN_SUGGESTIONS.map((words) => read(words))).toEqual([
    'Fri 27 Nov 09:00',
    'Wed 2 Dec 09:00',
    'Thu 26 Nov 09:00',
    'Mon 30 Nov 09:00',
    'Wed 25 Nov 14:20',
  ]);
});

test('a minute from now can be reached, less cannot', () => {
  expect(read('in 1 minute')).toBe('Wed 25 Nov 12:21');
  expect(read('in 30 seconds')).toMatch(/past/);
});
