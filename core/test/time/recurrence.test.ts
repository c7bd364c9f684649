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
  expect(nextOccurrence({ rule: 'FREQ=MONTHLY;BYMONTHDAY=31;BYMONTH=2', zone: 'UTC' }, 0)).toBeNull();
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
])('“%s” in %s is refused in words', (rule, zone) => {
  expect(recurrenceProblem({ rule, zone })).toEqual(expect.stringMatching(/\.$/));
});
