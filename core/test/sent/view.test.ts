import fc from 'fast-check';
import { LIST_ORDERS, SHOWN } from '@kiraku/core/contract';
import {
  entriesOf,
  filterOf,
  FIRST_VIEW,
  PERIODS,
  periodWords,
  readPeriod,
  viewFrom,
  type ListView,
} from '@kiraku/core/sent';

const NOW = new Date(2026, 10, 25, 14, 30).getTime();
const day = (month: number, date: number) => new Date(2026, month - 1, date).getTime();

const text = fc.string({ maxLength: 20 });
const views: fc.Arbitrary<ListView> = fc.record({
  show: fc.constantFrom(...SHOWN),
  sent: fc.constantFrom(...PERIODS.map(({ name }) => name), '2026-10-01..2026-10-31', '2026-10-01..'),
  person: fc.option(fc.nat()),
  template: fc.option(fc.nat()),
  firm: text,
  domain: text,
  link: text,
  noted: fc.boolean(),
  archived: fc.boolean(),
  words: text,
  order: fc.constantFrom(...LIST_ORDERS),
  rising: fc.boolean(),
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
  const names = fc.constantFrom(...Object.keys(FIRST_VIEW), 'other', '__proto__');
  fc.assert(
    fc.property(fc.array(fc.tuple(names, text)), (entries) => {
      const view = viewFrom(entries);
      expect(Object.keys(view).sort()).toEqual(Object.keys(FIRST_VIEW).sort());
      expect(SHOWN).toContain(view.show);
      expect(() => filterOf(view, NOW)).not.toThrow();
    }),
  );
});

test('what is as at first is left out', () => {
  expect(entriesOf({ ...FIRST_VIEW, show: 'unseen', noted: true })).toEqual([
    ['show', 'unseen'],
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
