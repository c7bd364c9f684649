import { Inject, Injectable } from '@nestjs/common';
import { and, desc, gt, ne, sql, type SQL } from 'drizzle-orm';
import type { Archived, ListFilter, ListColumn, SortDirection } from '@kiraku/core/contract';
import { EMPTY_SORTS_AS } from '@kiraku/core/sent';
import type { Place } from '../http/paging.js';
import { DATABASE, type Database } from '../store/database.js';
import { isUnread } from '../store/messageFacts.js';
import { contains } from '../store/like.js';
import { isListed } from '../store/listed.js';
import { link, message } from '../store/schema.js';
import { isInFolder, narrowingsOf } from './narrowings.repository.js';
import { byNumber, conditionsOf, isNamed, MAX_FEW, sourceOf } from './source.repository.js';

interface Order {
  value: SQL<number>;
  /** In which the messages of a folder lie in this order. */
  index: string;
  /** Whether a message of the list may have no value; those come last, whichever way round. */
  mayBeEmpty: boolean;
}

/** The order of each column; the values are in the words of their indexes. */
const ORDERS: Record<Exclude<ListColumn, 'relevance'>, Order> = {
  lastActivity: { value: sql<number>`${message.lastActivityAt}`, index: 'message_list', mayBeEmpty: false },
  sent: { value: sql<number>`coalesce(sent_at, send_at, queued_at)`, index: 'message_sent', mayBeEmpty: true },
  opens: { value: sql<number>`${message.opens}`, index: 'message_opens', mayBeEmpty: false },
  clicks: { value: sql<number>`${message.clicks}`, index: 'message_clicks', mayBeEmpty: false },
  fileViews: { value: sql<number>`${message.fileViews}`, index: 'message_file_views', mayBeEmpty: false },
  firstOpen: { value: sql<number>`${message.firstOpenAt}`, index: 'message_first_open', mayBeEmpty: true },
  lastOpen: { value: sql<number>`${message.lastOpenAt}`, index: 'message_last_open', mayBeEmpty: true },
  timeToOpen: { value: sql<number>`(first_open_at - sent_at)`, index: 'message_time_to_open', mayBeEmpty: true },
  timeToReply: { value: sql<number>`(replied_at - sent_at)`, index: 'message_time_to_reply', mayBeEmpty: true },
};

/** Of all orders’, the one that is counted soonest. */
const SHORTEST_INDEX = 'message_file_views';

/** Picks the messages of the list by its filter, in its order. Their rows are read by whoever shows them. */
@Injectable()
export class ListRepository {
  protected readonly maxFew: number = MAX_FEW;

  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /**
   * Without a filter, any page of any order is read from the index of that order, and no further. A filter that leaves
   * few is looked up in its own; of all others the list’s wide index is gone through.
   *
   * @param after the last row of the page before; null for the first page
   */
  page(filter: ListFilter, limit: number, after: Place | null, now: number): Place[] {
    if (filter.archived !== 'any') return this.pageOfFolder(filter, limit, after, now);
    const sign = filter.direction === 'asc' ? 1 : -1;
    return [false, true]
      .flatMap((archived) => this.pageOfFolder({ ...filter, archived }, limit, after, now))
      .sort((a, b) => sign * (a.value - b.value || a.id - b.id))
      .slice(0, limit);
  }

  private pageOfFolder(filter: ListFilter, limit: number, after: Place | null, now: number): Place[] {
    const order = ORDERS[filter.sort === 'relevance' ? 'lastActivity' : filter.sort];
    const { from, where } = sourceOf(this.database, filter, now, order.index, this.maxFew);
    const direction = sql.raw(filter.direction);
    const places: Place[] = [];
    for (const part of partsOf(order, filter.direction, after)) {
      if (places.length === limit) break;
      const rows = this.database
        .select({ value: part.value, id: sql<number>`${message.id}` })
        .from(from)
        .where(and(where, part.where))
        .orderBy(...(part.isSorted ? [sql`${order.value} ${direction}`] : []), sql`${message.id} ${direction}`)
        .limit(limit - places.length);
      places.push(...rows.all());
    }
    return places;
  }

  /** The words of links that were followed, the most followed first. */
  followedLinks(words: string, limit: number): string[] {
    return this.database
      .select({ text: link.text })
      .from(link)
      .where(and(gt(link.clicks, 0), ne(link.text, ''), contains(link.text, words)))
      .groupBy(link.text)
      .orderBy(desc(sql`sum(${link.clicks})`), link.text)
      .limit(limit)
      .all()
      .map(({ text }) => text);
  }

  count(filter: ListFilter, now: number): number {
    const narrowings = narrowingsOf(filter, now);
    const [only] = narrowings;
    if (narrowings.length === 1 && only?.isExact) return this.countFrom(sql`(${only.numbers})`);
    const { from, where } = sourceOf(this.database, filter, now, SHORTEST_INDEX, this.maxFew);
    return this.countFrom(from, where);
  }

  /** How many of the list show no sign that anybody has read them, tracked or not. */
  countUnread(archived: Archived): number {
    return this.countFrom(sql`${message} indexed by message_no_sign`, and(isInFolder(archived), isListed, isUnread));
  }

  /** Which of some messages the filter shows. */
  among(ids: number[], filter: ListFilter, now: number): number[] {
    return this.database
      .select({ id: sql<number>`${message.id}` })
      .from(byNumber)
      .where(and(isNamed(ids), conditionsOf(filter, narrowingsOf(filter, now))))
      .all()
      .map(({ id }) => id);
  }

  /** In the order in which they were written, for what goes through every one; all of them where the limit is -1. */
  after(id: number, filter: ListFilter, limit: number, now: number): number[] {
    return this.database
      .select({ id: message.id })
      .from(message)
      .where(and(gt(message.id, id), conditionsOf(filter, narrowingsOf(filter, now))))
      .orderBy(message.id)
      .limit(limit)
      .all()
      .map((row) => row.id);
  }

  private countFrom(from: SQL, where?: SQL): number {
    return this.database
      .select({ n: sql<number>`count(*)` })
      .from(from)
      .where(where)
      .get()!.n;
  }
}

/** A part of a list in which its index is read straight on. */
interface Part {
  value: SQL<number>;
  where: SQL | undefined;
  /** Whether the values differ; else it is by number alone. */
  isSorted: boolean;
}

/** The parts of a list in its order: what has the value of the page’s end, what lies beyond that, what has no value. */
function* partsOf({ value, mayBeEmpty }: Order, direction: SortDirection, after: Place | null): Generator<Part> {
  const empty = EMPTY_SORTS_AS[direction];
  const isBeyond = (column: SQL, than: number) =>
    direction === 'asc' ? sql`${column} > ${than}` : sql`${column} < ${than}`;
  const isIdBeyond = after ? isBeyond(sql`${message.id}`, after.id) : undefined;
  const isEmptyNow = after?.value === empty;
  if (!isEmptyNow) {
    if (after) yield { value, where: and(sql`${value} = ${after.value}`, isIdBeyond), isSorted: false };
    const beyond = after
      ? isBeyond(value, after.value)
      : mayBeEmpty
        ? sql`${value} > ${EMPTY_SORTS_AS.desc}`
        : undefined;
    yield { value, where: beyond, isSorted: true };
  }
  if (mayBeEmpty)
    yield {
      value: sql<number>`${empty}`,
      where: and(sql`${value} is null`, isEmptyNow ? isIdBeyond : undefined),
      isSorted: false,
    };
}
