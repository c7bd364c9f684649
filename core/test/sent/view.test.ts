import fc from 'fast-check';
import { ARCHIVED, LIST_COLUMNS, SENT_WITH, SHOWN, SORT_DIRECTIONS } from '@kiraku/core/contract';
import { entriesOf, filterOf, DEFAULT_VIEW, NO_SIGN_VIEW, viewFrom, type ListView } from '@kiraku/core/sent';
import { DAY, PERIODS } from '@kiraku/core/time';

const NOW = new Date(2026, 10, 25, 14, 30).getTime();
const ZONE = 'Europe/Amsterdam';

const text = fc.string({ maxLength: 20 });
const views: fc.Arbitrary<ListView> = fc.record({
  show: fc.constantFrom(...SHOWN),
  sent: fc.constantFrom(...PERIODS.map(({ name }) => name), '2026-10-01..2026-10-31', '2026-10-01..'),
  person: fc.option(fc.nat()),
  template: fc.option(fc.nat()),
  file: fc.option(fc.nat()),
  round: fc.option(fc.nat()),
  subject: text,
  company: text,
  domain: text,
  link: text,
  noted: fc.boolean(),
  archived: fc.constantFrom(...ARCHIVED),
  sentWith: fc.constantFrom(...SENT_WITH),
  workingDays: fc.boolean(),
  firstOpenHour: fc.option(fc.nat(167)),
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
      expect(() => filterOf(view, NOW, ZONE)).not.toThrow();
    }),
  );
});

test('what is as at first is left out', () => {
  expect(entriesOf({ ...DEFAULT_VIEW, show: 'no-sign', noted: true })).toEqual([
    ['show', 'no-sign'],
    ['noted', 'true'],
  ]);
});

test('what Today counts as silent is what the list then shows', () => {
  expect(filterOf(NO_SIGN_VIEW, NOW, ZONE)).toMatchObject({
    show: 'no-sign',
    from: null,
    to: NOW - 7 * DAY,
    sort: 'sent',
  });
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
