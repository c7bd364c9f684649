import { DAY, periodWords, readPeriod } from '@kiraku/core/time';

const NOW = new Date(2026, 10, 25, 14, 30).getTime();
const day = (month: number, date: number) => new Date(2026, month - 1, date).getTime();

test.each([
  ['', null, null, 'at any time'],
  ['today', day(11, 25), null, 'today'],
  ['this-week', day(11, 23), null, 'this week'],
  ['this-month', day(11, 1), null, 'this month'],
  ['last-month', day(10, 1), day(11, 1), 'last month'],
  ['2026-10-05..', day(10, 5), null, 'since 5 Oct'],
  ['..2026-10-31', null, day(11, 1), 'up to 31 Oct'],
  ['2026-10-05..2026-10-31', day(10, 5), day(11, 1), 'from 5 Oct to 31 Oct'],
])('“%s” begins and ends with a day', (name, from, to, words) => {
  expect(readPeriod(name, NOW)).toEqual({ from, to });
  expect(periodWords(name, NOW)).toBe(words);
});

test.each(['2026-02-30..', '2026-13-01..', '..2026-02-30', '..', 'yesterday', '2026-01-01..2026-02-30'])(
  '“%s” is no period',
  (name) => {
    expect(readPeriod(name, NOW)).toBeNull();
  },
);

test.each([
  ['7-days', NOW - 7 * DAY, null, 'in the last 7 days'],
  ['30-days', NOW - 30 * DAY, null, 'in the last 30 days'],
  ['over-week-ago', null, NOW - 7 * DAY, 'more than a week ago'],
  ['over-30-days-ago', null, NOW - 30 * DAY, 'more than 30 days ago'],
])('“%s” goes by the moment', (name, from, to, words) => {
  expect(readPeriod(name, NOW)).toEqual({ from, to });
  expect(periodWords(name, NOW)).toBe(words);
});

test.each([23, 24, 25, 26, 27, 28, 29])('on the %d of November 2026 the week began on the 23rd', (date) => {
  expect(readPeriod('this-week', new Date(2026, 10, date, 12).getTime())!.from).toBe(day(11, 23));
});
