import fc from 'fast-check';
import { LIST_COLUMNS, SHOWN, SORT_DIRECTIONS } from '@kiraku/core/contract';
import {
  entriesOf,
  filterOf,
  DEFAULT_VIEW,
  PERIODS,
  periodWords,
  readPeriod,
  NO_SIGN_VIEW,
  viewFrom,
  type ListView,
} from '@kiraku/core/sent';
import { DAY } from '@kiraku/core/time';

const NOW = new Date(2026, 10, 25, 14, 30).getTime();
const day = (month: number, date: number) => new Date(2026, month - 1, date).getTime();

const text = fc.string({ maxLength: 20 });
const views: fc.Arbitrary<ListView> = fc.record({
  show: fc.constantFrom(...SHOWN),
  sent: fc.constantFrom(...PERIODS.map(({ name }) => name), '2026-10-01..2026-10-31', '2026-10-01..'),
  person: fc.option(fc.nat()),
  template: fc.option(fc.nat()),
  company: text,
  domain: text,
  link: text,
  noted: fc.boolean(),
  archived: fc.boolean(),
  words: text,
  sort: fc.constantFrom(...LIST_COLUMNS),
  direction: fc.constantFrom(...SORT_DIRECTIONS),
});

test('a view survives the way through an address', () => {
  fc.assert(
    fc.property(views, (view) => {
      const address = new URLSearchParams(entriesOf(view)).toString();
      expect(viewFrom(new URLSearchParams(address))).toEqual(view);
    }),
  );
});

test('whatever an address says, it is read as some view', () => {
  const names = fc.constantFrom(...Object.keys(DEFAULT_VIEW), 'other', '__proto__');
  fc.assert(
    fc.property(fc.array(fc.tuple(names, text)), (entries) => {
      const view = viewFrom(entries);
      expect(Object.keys(view).sort()).toEqual(Object.keys(DEFAULT_VIEW).sort());
      expect(SHOWN).toContain(view.show);
      expect(() => filterOf(view, NOW)).not.toThrow();
    }),
  );
});

test('what is as at first is left out', () => {
  expect(entriesOf({ ...DEFAULT_VIEW, show: 'no-sign', noted: true })).toEqual([
    ['show', 'no-sign'],
    ['noted', 'true'],
  ]);
});

test.each([
  ['', null, null, 'at any time'],
  ['today', day(11, 25), null, 'today'],
  ['this-week', day(11, 23), null, 'this week'],
  ['this-month', day(11, 1), null, 'this month'],
  ['last-month', day(10, 1), day(11, 1), 'last month'],
  ['2026-10-05..', day(10, 5), null, 'since 5 Oct'],
  ['2026-10-05..2026-10-31', day(10, 5), day(11, 1), 'from 5 Oct to 31 Oct'],
])('“%s” begins and ends with a day', (name, from, to, words) => {
  expect(readPeriod(name, NOW)).toEqual({ from, to });
  expect(periodWords(name, NOW)).toBe(words);
});

test.each(['2026-02-30..', '2026-13-01..', '..2026-01-01', 'yesterday', '2026-01-01..2026-02-30'])(
  '“%s” is no period',
  (name) => {
    expect(readPeriod(name, NOW)).toBeNull();
  },
);

test.each([
  ['7-days', NOW - 7 * DAY, null, 'in the last 7 days'],
  ['30-days', NOW - 30 * DAY, null, 'in the last 30 days'],
  ['over-week-ago', null, NOW - 7 * DAY, 'more than a week ago'],
])('“%s” goes by the moment', (name, from, to, words) => {
  expect(readPeriod(name, NOW)).toEqual({ from, to });
  expect(periodWords(name, NOW)).toBe(words);
});

test.each([23, 24, 25, 26, 27, 28, 29])('on the %d of November 2026 the week began on the 23rd', (date) => {
  expect(readPeriod('this-week', new Date(2026, 10, date, 12).getTime())!.from).toBe(day(11, 23));
});

test('what Today counts as silent is what the list then shows', () => {
  expect(filterOf(NO_SIGN_VIEW, NOW)).toMatchObject({ show: 'no-sign', from: null, to: NOW - 7 * DAY, sort: 'sent' });
});

test('what an address cannot mean is as at first', () => {
  const view = (name: string, value: string) => viewFrom([[name, value]]);
  expect(view('person', '123456789012345').person).toBe(123456789012345);
  for (const person of ['1234567890123456', '-1', '1.5', 'x', '']) expect(view('person', person).person).toBeNull();
  expect(view('show', 'nothing').show).toBe('all');
  expect(view('sort', 'nothing').sort).toBe('lastActivity');
  expect(view('direction', 'up').direction).toBe('desc');
  expect(view('noted', 'yes').noted).toBe(false);
});
