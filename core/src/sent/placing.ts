import type { ListColumn, SortDirection } from '../contract/list.js';
import type { MessageSummary } from '../contract/message.js';
import type { ListView } from './view.js';

/** What a row is sorted by; what is empty comes last, whichever way round. */
const VALUES: Record<Exclude<ListColumn, 'relevance'>, (row: MessageSummary) => number | null> = {
  lastActivity: (row) => row.lastActivityAt,
  sent: (row) => row.sentAt ?? row.sendAt ?? row.queuedAt,
  opens: (row) => row.tally.opens,
  clicks: (row) => row.tally.clicks,
  fileViews: (row) => row.tally.fileViews,
  firstOpen: (row) => row.tally.firstOpenAt,
  lastOpen: (row) => row.tally.lastOpenAt,
  timeToOpen: (row) => since(row.tally.firstOpenAt, row.sentAt),
  timeToReply: (row) => since(row.tally.repliedAt, row.sentAt),
};

/** What is empty is sorted as if it were this: after everything that has a value, whichever way round. */
export const EMPTY_SORTS_AS: Record<SortDirection, number> = { desc: -9e15, asc: 9e15 };

/** The place after a row, as the server names it: “value.number”; null where the order is how well they match. */
export function placeAfter(
  row: MessageSummary,
  { sort, direction }: Pick<ListView, 'sort' | 'direction'>,
): string | null {
  if (sort === 'relevance') return null;
  return `${VALUES[sort](row) ?? EMPTY_SORTS_AS[direction]}.${row.id}`;
}

/**
 * Puts rows that changed where they now belong in the part of a list that is loaded. One that belongs beyond it is left
 * out: it comes when that is loaded.
 *
 * @param before the rows that are loaded, in order
 * @param shown numbers of those changed rows that the list shows; the others leave it
 * @param isWhole whether nothing lies beyond what is loaded
 */
export function placeRows(
  before: readonly MessageSummary[],
  changed: readonly MessageSummary[],
  shown: ReadonlySet<number>,
  { sort, direction }: Pick<ListView, 'sort' | 'direction'>,
  isWhole: boolean,
): MessageSummary[] {
  const changedIds = new Set(changed.map(({ id }) => id));
  const unchanged = before.filter(({ id }) => !changedIds.has(id));
  const stay = changed.filter(({ id }) => shown.has(id));
  const rows =
    sort === 'relevance' ? inPlace(before, stay, changedIds) : [...unchanged, ...stay].sort(comparing(sort, direction));
  const last = unchanged.at(-1);
  return isWhole || !last ? rows : rows.slice(0, rows.indexOf(last) + 1);
}

/** By how well they match nothing moves; what came is at the end. */
function inPlace(before: readonly MessageSummary[], stay: MessageSummary[], changedIds: Set<number>): MessageSummary[] {
  const byId = new Map(stay.map((row) => [row.id, row]));
  const kept = before.flatMap((row) => (changedIds.has(row.id) ? (byId.get(row.id) ?? []) : row));
  const there = new Set(kept.map(({ id }) => id));
  return [...kept, ...stay.filter(({ id }) => !there.has(id))];
}

function comparing(sort: Exclude<ListColumn, 'relevance'>, direction: SortDirection) {
  const way = direction === 'asc' ? 1 : -1;
  const valueOf = (row: MessageSummary) => VALUES[sort](row) ?? way * Infinity;
  return (a: MessageSummary, b: MessageSummary) => {
    const [x, y] = [valueOf(a), valueOf(b)];
    return x === y ? way * (a.id - b.id) : way * (x < y ? -1 : 1);
  };
}

function since(at: number | null, sentAt: number | null): number | null {
  return at === null || sentAt === null ? null : at - sentAt;
}
