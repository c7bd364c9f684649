import { Inject, Injectable } from '@nestjs/common';
import { and, asc, between, count, desc, eq, gt, gte, isNull, lt, ne, or, sql, type SQL } from 'drizzle-orm';
import type { ListFilter, ListColumn, Shown, SortDirection } from '@kiraku/core/contract';
import { OVERDUE_MS } from '@kiraku/core/delivery';
import { HOUR } from '@kiraku/core/time';
import { EMPTY_SORTS_AS } from '@kiraku/core/sent';
import { HEATING_UP_OPENS } from '@kiraku/core/tracking';
import type { Place } from '../http/paging.js';
import { isAmong } from '../store/among.js';
import { DATABASE, type Database } from '../store/database.js';
import { contains, endsWith } from '../store/like.js';
import { copy, event, link, message, person, reminder } from '../store/schema.js';
import { isRead, isUnread } from '../store/isRead.js';
import { matching } from './search.repository.js';

/** As many pages are sorted beforehand to learn how far the first one reaches. */
const SAMPLED_PAGES = 8;

/** As the list’s index has it. */
const hasNote = sql`(note <> '')`;
const isTracked = and(or(message.trackOpens, message.trackClicks), isNull(message.untrackedReason))!;

/** Where a message stands, as a condition on its row. Whoever reads tells by the same counts as the list’s words. */
const SHOWN_CONDITIONS: Record<Shown, (now: number) => SQL | undefined> = {
  all: () => undefined,
  'no-sign': () => and(eq(message.state, 'sent'), isTracked, isUnread),
  opened: () => isRead,
  'not-replied': () => and(isRead, eq(message.replies, 0)),
  replied: () => gt(message.replies, 0),
  clicked: () => gt(message.clicks, 0),
  viewed: () => gt(message.fileViews, 0),
  heating: (now) =>
    sql`${message.id} in (select ${event.messageId} from ${event} indexed by event_at where ${event.at} > ${now - HOUR} and ${event.counted} and ${event.kind} = 'opened' group by ${event.messageId} having count(*) >= ${HEATING_UP_OPENS})`,
  // The first half names the index of the few copies that have not left; so it does of open reminders below.
  bounced: () =>
    sql`${message.id} in (select ${copy.messageId} from ${copy} where ${copy.state} <> 'sent' and ${copy.state} = 'failed')`,
  'not-tracked': () => and(ne(message.state, 'scheduled'), sql`not (${isTracked})`),
  scheduled: () => eq(message.state, 'scheduled'),
  attention: (now) =>
    or(
      SHOWN_CONDITIONS.bounced(now),
      and(eq(message.state, 'scheduled'), lt(message.sendAt, now - OVERDUE_MS)),
      sql`${message.id} in (select ${reminder.messageId} from ${reminder} where ${reminder.state} in ('waiting', 'due') and ${reminder.state} = 'due')`,
    ),
};

const SORTED_BY: Record<Exclude<ListColumn, 'relevance'>, SQL> = {
  lastActivity: sql`${message.lastActivityAt}`,
  sent: sql`coalesce(${message.sentAt}, ${message.sendAt}, ${message.queuedAt})`,
  opens: sql`${message.opens}`,
  clicks: sql`${message.clicks}`,
  fileViews: sql`${message.fileViews}`,
  firstOpen: sql`${message.firstOpenAt}`,
  lastOpen: sql`${message.lastOpenAt}`,
  timeToOpen: sql`${message.firstOpenAt} - ${message.sentAt}`,
  timeToReply: sql`${message.repliedAt} - ${message.sentAt}`,
};

/** Orders whose value every sent message has; the others may be empty. */
const ALWAYS_THERE = new Set<ListColumn>(['lastActivity', 'sent', 'opens', 'clicks', 'fileViews']);

const isListed = sql`${message.lastActivityAt} > 0`;

function isInFolder(archived: boolean, folder = sql`${message.folder}`): SQL {
  return archived ? eq(folder, 'archived') : isNull(folder);
}

/** Picks the messages of the list by its filter, in its order. Their rows are read by whoever shows them. */
@Injectable()
export class ListRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** @param after the last row of the page before; null for the first page */
  page(filter: ListFilter, limit: number, after: Place | null, now: number): Place[] {
    const sorted = SORTED_BY[filter.sort === 'relevance' ? 'lastActivity' : filter.sort];
    const empty = EMPTY_SORTS_AS[filter.direction];
    const value = ALWAYS_THERE.has(filter.sort) ? sorted : sql`coalesce(${sorted}, ${empty})`;
    const direction = sql.raw(filter.direction);
    const beyond =
      after &&
      sql`(${value}, ${message.id}) ${sql.raw(filter.direction === 'asc' ? '>' : '<')} (${after.value}, ${after.id})`;
    const rows = (range: SQL, bound?: SQL) =>
      this.database
        .select({ value: sql<number>`${value}`, id: sql<number>`${message.id}` })
        .from(sourceOf(filter))
        .where(and(conditions(filter, now, range), beyond ?? undefined, bound))
        .orderBy(sql`${value} ${direction}`, sql`${message.id} ${direction}`)
        .limit(limit);
    const sampled = filter.sort === 'lastActivity' || after ? undefined : this.endOfList(filter, SAMPLED_PAGES * limit);
    const last = sampled && rows(sampled).all()[limit - 1];
    return rows(isListed, last && upTo(value, last.value, filter.direction)).all();
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
    return this.database.select({ n: count() }).from(sourceOf(filter)).where(conditions(filter, now)).get()!.n;
  }

  /** Which of some messages the filter shows. */
  among(ids: number[], filter: ListFilter, now: number): number[] {
    const named = isAmong(message.id, JSON.stringify(ids));
    return this.database
      .select({ id: message.id })
      .from(message)
      .where(and(named, conditions(filter, now, sql`+${message.lastActivityAt} > 0`, sql`+${message.folder}`)))
      .all()
      .map(({ id }) => id);
  }

  /** In the order in which they were written, for what goes through every one; all of them where the limit is -1. */
  after(id: number, filter: ListFilter, limit: number, now: number): number[] {
    return this.database
      .select({ id: message.id })
      .from(message)
      .where(and(gt(message.id, id), conditions(filter, now)))
      .orderBy(message.id)
      .limit(limit)
      .all()
      .map((row) => row.id);
  }

  /**
   * The end of the list whose messages are likely to come first: the activity lately, or long ago. What comes last on
   * a page of these alone comes after nothing of the first page of all, and SQLite need not sort what lies beyond. It
   * takes into its sorter whatever comes before the last row of the page so far; with the newest wanted and the oldest
   * read first, that is every row.
   */
  private endOfList({ archived, direction }: ListFilter, sampled: number): SQL | undefined {
    const end = this.database
      .select({ at: sql<number>`${message.lastActivityAt}` })
      .from(message)
      .where(and(isListed, isInFolder(archived)))
      .orderBy(direction === 'asc' ? asc(message.lastActivityAt) : desc(message.lastActivityAt))
      .limit(1)
      .offset(sampled - 1)
      .get();
    if (!end) return undefined;
    return direction === 'asc' ? between(message.lastActivityAt, 1, end.at) : gte(message.lastActivityAt, end.at);
  }
}

/** What a page can hold whose last row has a value; undefined where that leaves nothing out. */
function upTo(value: SQL, last: number, direction: SortDirection): SQL | undefined {
  if (direction === 'asc') return last < EMPTY_SORTS_AS.asc ? sql`${value} <= ${last}` : undefined;
  return last > 0 ? sql`${value} >= ${last}` : undefined;
}

/** SQLite would take the list’s wide index for everything; of what shows no sign there is one of its own. */
function sourceOf({ show }: ListFilter): SQL {
  return show === 'no-sign' ? sql`${message} indexed by message_no_sign` : sql`${message}`;
}

/**
 * @param range which part of the list is gone through, by the column that its index has in order
 * @param folder with a sign before it where the messages are named, and SQLite is not to go through the list for them
 */
function conditions(
  filter: ListFilter,
  now: number,
  range = isListed,
  folder = sql`${message.folder}`,
): SQL | undefined {
  const { from, to, template, noted, archived, words } = filter;
  const sentAt = sql`coalesce(${message.sentAt}, ${message.queuedAt})`;
  return and(
    range,
    isInFolder(archived, folder),
    SHOWN_CONDITIONS[filter.show](now),
    from === null ? undefined : gte(sentAt, from),
    to === null ? undefined : lt(sentAt, to),
    template === null ? undefined : eq(message.templateId, template),
    noted ? hasNote : undefined,
    recipientIs(filter),
    linkIs(filter.link),
    words === '' ? undefined : matching(words),
  );
}

/** Whether a message went to somebody like that. */
function recipientIs({ person: personId, company, domain }: ListFilter): SQL | undefined {
  const who = and(
    personId === null ? undefined : eq(person.id, personId),
    company === '' ? undefined : eq(person.company, company),
    domain === '' ? undefined : endsWith(person.addressKey, `@${domain.toLowerCase()}`),
  );
  if (!who) return undefined;
  return sql`${message.id} in (select ${copy.messageId} from ${copy} where ${copy.personId} in (select ${person.id} from ${person} where ${who}))`;
}

function linkIs(text: string): SQL | undefined {
  if (text === '') return undefined;
  return sql`${message.id} in (select ${link.messageId} from ${link} where ${link.text} = ${text} and ${link.clicks} > 0)`;
}
