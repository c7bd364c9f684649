import fc from 'fast-check';
import { LIST_COLUMNS, SORT_DIRECTIONS, type MessageSummary, type SortDirection } from '@kiraku/core/contract';
import { placeAfter, placeRows } from '@kiraku/core/sent';
import { EMPTY_TALLY } from '@kiraku/core/tracking';

const row = (id: number, lastActivityAt: number, opens = 0) =>
  ({ id, lastActivityAt, sentAt: 0, queuedAt: 0, sendAt: null, tally: { ...EMPTY_TALLY, opens } }) as MessageSummary;
const ids = (rows: readonly MessageSummary[]) => rows.map(({ id }) => id);
const latest = { sort: 'lastActivity', direction: 'desc' } as const;

test('a row that changed comes to its place, and one that is not shown any more goes', () => {
  const before = [row(3, 30), row(2, 20), row(1, 10)];
  const moved = placeRows(before, [row(1, 40)], new Set([1]), latest, true);
  expect(ids(moved)).toEqual([1, 3, 2]);
  const gone = placeRows(before, [row(2, 20)], new Set(), latest, true);
  expect(ids(gone)).toEqual([3, 1]);
});

test('what belongs beyond the loaded part is left for later', () => {
  const before = [row(3, 30, 5), row(2, 20, 3)];
  const view = { sort: 'opens', direction: 'desc' } as const;
  expect(ids(placeRows(before, [row(9, 90, 1)], new Set([9]), view, false))).toEqual([3, 2]);
  expect(ids(placeRows(before, [row(9, 90, 1)], new Set([9]), view, true))).toEqual([3, 2, 9]);
});

test('what is empty comes last, whichever way round', () => {
  const opened = { ...row(1, 0), tally: { ...EMPTY_TALLY, firstOpenAt: 5 } } as MessageSummary;
  for (const direction of SORT_DIRECTIONS)
    expect(ids(placeRows([row(2, 0)], [opened], new Set([1]), { sort: 'firstOpen', direction }, true))).toEqual([1, 2]);
});

test('by how well they match nothing moves', () => {
  const before = [row(3, 30), row(2, 20)];
  const view = { sort: 'relevance', direction: 'desc' } as const;
  expect(ids(placeRows(before, [row(2, 99), row(4, 99)], new Set([2, 4]), view, true))).toEqual([3, 2, 4]);
});

test('rows that change one after the other end as if the list had been loaded then', () => {
  const change = fc.record({ id: fc.integer({ min: 1, max: 8 }), lastActivityAt: fc.nat(50), opens: fc.nat(5) });
  const columns = fc.constantFrom(...LIST_COLUMNS.filter((column) => column !== 'relevance'));
  fc.assert(
    fc.property(fc.array(change), columns, fc.constantFrom(...SORT_DIRECTIONS), (changes, sort, direction) => {
      const view = { sort, direction };
      const all = (list: MessageSummary[]) => new Set(ids(list));
      let rows: MessageSummary[] = [];
      for (const { id, lastActivityAt, opens } of changes) {
        const next = row(id, lastActivityAt, opens);
        rows = placeRows(rows, [next], all([next]), view, true);
      }
      const fresh = placeRows([], rows, all(rows), view, true);
      expect(rows).toEqual(fresh);
      expect(new Set(ids(rows)).size).toBe(rows.length);
    }),
  );
});

test('waits are sorted by how long they were, whenever they began', () => {
  const waited = (id: number, sentAt: number, firstOpenAt: number | null, repliedAt: number | null = null) =>
    ({ ...row(id, 0), sentAt, tally: { ...EMPTY_TALLY, firstOpenAt, repliedAt } }) as MessageSummary;
  const rows = [waited(1, 100, 110, 500), waited(2, 10, 90, 95), waited(3, 50, 60), waited(4, 1, null)];
  const place = (sort: 'timeToOpen' | 'timeToReply', direction: SortDirection) =>
    ids(placeRows([], rows, new Set(ids(rows)), { sort, direction }, true));
  expect(place('timeToOpen', 'desc')).toEqual([2, 3, 1, 4]);
  expect(place('timeToOpen', 'asc')).toEqual([1, 3, 2, 4]);
  expect(place('timeToReply', 'desc').slice(0, 2)).toEqual([1, 2]);
  expect(placeAfter(rows[1]!, { sort: 'timeToOpen', direction: 'asc' })).toBe('80.2');
  expect(placeAfter(rows[3]!, { sort: 'timeToOpen', direction: 'desc' })).toBe('-9000000000000000.4');
  expect(placeAfter(rows[3]!, { sort: 'timeToOpen', direction: 'asc' })).toBe('9000000000000000.4');
});

test('of equals the newer comes first where the list falls, and last where it rises', () => {
  const rows = [row(1, 5), row(2, 5), row(3, 5)];
  for (const [direction, expected] of [
    ['desc', [3, 2, 1]],
    ['asc', [1, 2, 3]],
  ] as const)
    expect(ids(placeRows([], rows, new Set([1, 2, 3]), { sort: 'lastActivity', direction }, true))).toEqual(expected);
});
