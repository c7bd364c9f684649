import fc from 'fast-check';
import { PEOPLE_ORDERS, PEOPLE_SHOWN } from '@kiraku/core/contract';
import {
  DEFAULT_PEOPLE_VIEW,
  peopleEntriesOf,
  peopleFilterOf,
  peopleViewFrom,
  type PeopleView,
} from '@kiraku/core/people';
import { DAY, PERIODS } from '@kiraku/core/time';

const NOW = new Date(2026, 10, 25, 14, 30).getTime();
const text = fc.string({ maxLength: 20 });
const views: fc.Arbitrary<PeopleView> = fc.record({
  show: fc.constantFrom(...PEOPLE_SHOWN),
  tag: text,
  contact: fc.constantFrom(...PERIODS.map(({ name }) => name)),
  words: text,
  order: fc.constantFrom(...PEOPLE_ORDERS),
});

test('a view of people survives the way through an address, which says no more than it must', () => {
  fc.assert(
    fc.property(views, (view) => {
      const entries = peopleEntriesOf(view);
      expect(peopleViewFrom(new URLSearchParams(new URLSearchParams(entries).toString()))).toEqual(view);
      for (const [name, value] of entries) expect(value).not.toBe(DEFAULT_PEOPLE_VIEW[name as keyof PeopleView]);
    }),
  );
});

test('whatever an address says, it is read as some view', () => {
  const names = fc.constantFrom(...Object.keys(DEFAULT_PEOPLE_VIEW), 'as', '__proto__');
  fc.assert(
    fc.property(fc.array(fc.tuple(names, text)), (entries) => {
      const view = peopleViewFrom(entries);
      expect(Object.keys(view).sort()).toEqual(Object.keys(DEFAULT_PEOPLE_VIEW).sort());
      expect(PEOPLE_SHOWN).toContain(view.show);
      expect(PEOPLE_ORDERS).toContain(view.order);
    }),
  );
});

test('the last contact is asked for by times', () => {
  const view = { ...DEFAULT_PEOPLE_VIEW, contact: 'over-30-days-ago', tag: 'café' };
  expect(peopleFilterOf(view, NOW)).toEqual({
    show: 'all',
    tag: 'café',
    contactFrom: null,
    contactTo: NOW - 30 * DAY,
    words: '',
    order: 'name',
  });
});
