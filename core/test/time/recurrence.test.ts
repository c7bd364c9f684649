import fc from 'fast-check';
import { DAY, momentOf, nextOccurrence, occurrences, recurrenceProblem, wallTimeAt } from '@kiraku/core/time';

const at = (text: string, zone: string) => {
  const [year, month, day, hour, minute] = text.split(/[-T:]/).map(Number) as [number, number, number, number, number];
  return momentOf({ year, month, day, hour, minute }, zone);
};

test.each<[name: string, rule: string, zone: string, from: string, next: string[]]>([
  [
    'the last Wednesday',
    'FREQ=MONTHLY;BYDAY=-1WE',
    'Europe/Helsinki',
    '2026-11-25T09:00',
    ['2026-12-30T09:00', '2027-01-27T09:00'],
  ],
  [
    'nine o’clock stays nine o’clock in spring',
    'FREQ=WEEKLY',
    'Europe/Berlin',
    '2026-03-25T09:00',
    ['2026-04-01T09:00'],
  ],
  ['and in autumn', 'FREQ=DAILY', 'America/New_York', '2026-10-31T09:00', ['2026-11-01T09:00', '2026-11-02T09:00']],
  ['an hour that is leapt over', 'FREQ=DAILY', 'Europe/Berlin', '2026-03-28T02:30', ['2026-03-29T03:30']],
  ['so many times', 'FREQ=DAILY;COUNT=3', 'UTC', '2026-11-25T09:00', ['2026-11-26T09:00', '2026-11-27T09:00']],
  [
    'until a day',
    'FREQ=DAILY;UNTIL=20261127T090000Z',
    'UTC',
    '2026-11-25T09:00',
    ['2026-11-26T09:00', '2026-11-27T09:00'],
  ],
  ['the 31st, where there is one', 'FREQ=MONTHLY;BYMONTHDAY=31', 'UTC', '2026-10-31T09:00', ['2026-12-31T09:00']],
  ['a leap day', 'FREQ=YEARLY', 'UTC', '2028-02-29T09:00', ['2032-02-29T09:00']],
])('%s', (_name, rule, zone, from, next) => {
  const times = occurrences({ rule, zone }, at(from, zone), next.length + 1);
  expect(times).toEqual([from, ...next].map((text) => at(text, zone)));
});

test('what has an end, ends', () => {
  expect(occurrences({ rule: 'FREQ=DAILY;COUNT=3', zone: 'UTC' }, 0, 10)).toHaveLength(3);
  expect(
    nextOccurrence({ rule: 'FREQ=DAILY;UNTIL=20200101T000000Z', zone: 'UTC' }, at('2026-01-01T09:00', 'UTC')),
  ).toBeNull();
});

test('the clocks show the same hour at every weekly repetition, in any zone', () => {
  const zones = fc.constantFrom('Europe/Berlin', 'America/New_York', 'Asia/Kathmandu', 'Pacific/Auckland');
  fc.assert(
    fc.property(zones, fc.integer({ min: 0, max: 3000 }), (zone, day) => {
      const from = at('2020-01-01T12:15', zone) + day * DAY;
      const times = occurrences({ rule: 'FREQ=WEEKLY', zone }, from, 10);
      const hours = times.map((time) => [wallTimeAt(time, zone).hour, wallTimeAt(time, zone).minute]);
      expect(new Set(hours.map(String)).size).toBe(1);
    }),
    { numRuns: 50 },
  );
});

test.each([
  ['FREQ=HOURLY', 'UTC'],
  ['FREQ=DAILY', 'Europe/Nowhere'],
  ['', 'UTC'],
  ['BYDAY=MO', 'UTC'],
  [`FREQ=DAILY;BYDAY=${'MO,'.repeat(200)}TU`, 'UTC'],
  ['FREQ=DAILY;INTERVAL=-1', 'UTC'],
  ['FREQ=DAILY;INTERVAL=0', 'UTC'],
  ['FREQ=DAILY;INTERVAL=1000', 'UTC'],
  ['FREQ=DAILY;COUNT=0', 'UTC'],
  ['FREQ=DAILY;COUNT=-3', 'UTC'],
  ['FREQ=DAILY;FREQ=YEARLY', 'UTC'],
  ['FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=31', 'UTC'],
  ['FREQ=DAILY;BYMONTH=2;BYMONTHDAY=31', 'UTC'],
  ['FREQ=MONTHLY;BYDAY=1MO;BYMONTHDAY=31', 'UTC'],
  ['FREQ=MONTHLY;BYMONTHDAY=32', 'UTC'],
  ['FREQ=WEEKLY;BYDAY=1MO', 'UTC'],
  ['FREQ=WEEKLY;BYDAY=', 'UTC'],
  ['FREQ=DAILY;BYSETPOS=400', 'UTC'],
  ['FREQ=DAILY;UNTIL=tomorrow', 'UTC'],
  ['FREQ=DAILY\nDTSTART:20260101T000000Z', 'UTC'],
  ['FREQ=DAILY=2', 'UTC'],
  ['freq=daily', 'UTC'],
])('“%s” in %s is refused in words, and never run', (rule, zone) => {
  expect(recurrenceProblem({ rule, zone })).toEqual(expect.stringMatching(/\.$/));
  expect(nextOccurrence({ rule, zone }, 0)).toBeNull();
  expect(occurrences({ rule, zone }, 0, 5)).toEqual([0]);
});

test.each(['FREQ=MONTHLY;BYMONTHDAY=31;INTERVAL=12', 'FREQ=YEARLY;INTERVAL=999'])(
  '“%s”, which does not come again for twenty years, comes to an end',
  (rule) => {
    expect(recurrenceProblem({ rule, zone: 'UTC' })).toBeNull();
    expect(nextOccurrence({ rule, zone: 'UTC' }, at('2025-02-10T09:00', 'UTC'))).toBeNull();
  },
);

test('every rule that is taken comes to its end, and its times grow', () => {
  const weekday = fc.constantFrom('MO', 'TU', 'WE', 'TH', 'FR', 'SA', 'SU');
  const rule = fc
    .tuple(
      fc.oneof(
        fc.constantFrom('FREQ=DAILY', 'FREQ=WEEKLY', 'FREQ=MONTHLY', 'FREQ=YEARLY'),
        fc.array(weekday, { minLength: 1, maxLength: 7 }).map((days) => `FREQ=WEEKLY;BYDAY=${days.join(',')}`),
        fc.integer({ min: 1, max: 31 }).map((day) => `FREQ=MONTHLY;BYMONTHDAY=${day}`),
        fc
          .tuple(fc.constantFrom('1', '2', '3', '4', '5', '-1'), weekday)
          .map(([n, day]) => `FREQ=MONTHLY;BYDAY=${n}${day}`),
      ),
      fc.option(fc.integer({ min: 1, max: 999 })),
      fc.option(fc.integer({ min: 1, max: 9999 })),
    )
    .map(
      ([own, interval, count]) => own + (interval ? `;INTERVAL=${interval}` : '') + (count ? `;COUNT=${count}` : ''),
    );
  fc.assert(
    fc.property(rule, fc.integer({ min: 0, max: 20_000 }), (one, day) => {
      const recurrence = { rule: one, zone: 'Europe/Berlin' };
      expect(recurrenceProblem(recurrence)).toBeNull();
      const times = occurrences(recurrence, day * DAY, 3);
      const next = nextOccurrence(recurrence, day * DAY);
      // What goes on from there is a rule that is taken, too.
      expect(next && recurrenceProblem(next.recurrence)).toBeNull();
      expect(times).toEqual([...new Set(times)].sort((a, b) => a - b));
    }),
    { numRuns: 200 },
  );
});
