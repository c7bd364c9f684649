import { Inject, Injectable } from '@nestjs/common';
import { and, asc, count, desc, eq, getTableColumns, inArray, isNotNull, max, sql } from 'drizzle-orm';
import { alias } from 'drizzle-orm/sqlite-core';
import type { Recipient, WordingResult } from '@kiraku/core/contract';
import { addressKey } from '@kiraku/core/message';
import { rateOf } from '@kiraku/core/reports';
import { handOverOf, type HandOver, type MemberFacts } from '@kiraku/core/rounds';
import { DATABASE, type Database } from '../store/database.js';
import { isRead } from '../store/isRead.js';
import { copy, message, messageBody, outbox, person, round, roundMember } from '../store/schema.js';

export type StoredRound = typeof round.$inferSelect;
type StoredMember = typeof roundMember.$inferSelect;

/** Somebody of a round, with what their message says of itself. */
export interface MemberRow extends StoredMember {
  state: (typeof message.$inferSelect)['state'];
  recipients: Recipient[];
  subject: string;
  revision: number;
  sendAt: number | null;
  html: string;
}

/** What is known of an address besides what a round warns of. */
export interface AddressFacts extends MemberFacts {
  company: string;
  name: string;
  zone: string;
}

const isWaiting = inArray(message.state, ['draft', 'scheduled']);

@Injectable()
export class RoundsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  add(values: typeof round.$inferInsert): number {
    return this.database.insert(round).values(values).returning({ id: round.id }).get().id;
  }

  find(id: number): StoredRound | undefined {
    return this.database.select().from(round).where(eq(round.id, id)).get();
  }

  set(id: number, values: Partial<StoredRound>): void {
    this.database.update(round).set(values).where(eq(round.id, id)).run();
  }

  remove(id: number): void {
    this.database.delete(message).where(eq(message.roundId, id)).run();
    this.database.delete(round).where(eq(round.id, id)).run();
  }

  running(): StoredRound[] {
    return this.database.select().from(round).where(eq(round.state, 'running')).orderBy(asc(round.id)).all();
  }

  /** Rounds with how many of their messages stand where, the newest first. */
  rows() {
    const of = (condition: ReturnType<typeof sql>) => sql<number>`coalesce(sum(${condition}), 0)`.mapWith(Number);
    const stands = (states: string) => sql`${message.state} in ${sql.raw(states)}`;
    return this.database
      .select({
        id: round.id,
        name: round.name,
        state: round.state,
        createdAt: round.createdAt,
        people: of(sql`not ${roundMember.leftOut}`),
        sent: of(stands("('sent')")),
        failed: of(stands("('failed')")),
        waiting: of(sql`${stands("('draft', 'scheduled')")} and not ${roundMember.leftOut}`),
        replied: of(sql`${message.replies} > 0`),
      })
      .from(round)
      .leftJoin(message, eq(message.roundId, round.id))
      .leftJoin(roundMember, eq(roundMember.messageId, message.id))
      .groupBy(round.id)
      .orderBy(desc(round.id))
      .all();
  }

  /** Rounds that have begun, and of which something waits. */
  underWay() {
    return this.rows().filter(({ state, waiting }) => (state === 'running' || state === 'paused') && waiting > 0);
  }

  addMember(values: typeof roundMember.$inferInsert): void {
    this.database.insert(roundMember).values(values).run();
  }

  setMember(messageId: number, values: Partial<StoredMember>): void {
    this.database.update(roundMember).set(values).where(eq(roundMember.messageId, messageId)).run();
  }

  /** Everybody of a round, in its order. */
  members(roundId: number): MemberRow[] {
    const { state, recipients, subject, revision, sendAt } = message;
    return this.database
      .select({
        ...getTableColumns(roundMember),
        ...{ state, recipients, subject, revision, sendAt, html: messageBody.html },
      })
      .from(message)
      .innerJoin(roundMember, eq(roundMember.messageId, message.id))
      .innerJoin(messageBody, eq(messageBody.messageId, message.id))
      .where(eq(message.roundId, roundId))
      .orderBy(asc(roundMember.position))
      .all();
  }

  /** The place of whoever is added next. Members can be gone from between: erased, or their draft deleted. */
  nextPosition(roundId: number): number {
    const row = this.database
      .select({ last: max(roundMember.position) })
      .from(roundMember)
      .innerJoin(message, eq(message.id, roundMember.messageId))
      .where(eq(message.roundId, roundId))
      .get();
    return (row?.last ?? -1) + 1;
  }

  /** The message of a round that leaves next; undefined where none has a time. */
  nextScheduled(roundId: number): { messageId: number; sendAt: number; recipients: Recipient[] } | undefined {
    const row = this.database
      .select({ messageId: message.id, sendAt: message.sendAt, recipients: message.recipients })
      .from(message)
      .where(and(eq(message.roundId, roundId), eq(message.state, 'scheduled'), isNotNull(message.sendAt)))
      .orderBy(asc(message.sendAt), asc(message.id))
      .limit(1)
      .get();
    return row && { ...row, sendAt: row.sendAt! };
  }

  /** How the mail server received the newest messages that a round has sent since a time, the newest first. */
  handOvers(roundId: number, since: number, limit: number): { handOver: HandOver; lastError: string | null }[] {
    return this.database
      .select({ state: copy.state, attempts: outbox.attempts, lastError: copy.lastError })
      .from(message)
      .innerJoin(copy, eq(copy.messageId, message.id))
      .leftJoin(outbox, eq(outbox.copyId, copy.id))
      .where(and(eq(message.roundId, roundId), sql`not ${isWaiting}`, sql`${message.queuedAt} >= ${since}`))
      .orderBy(desc(copy.id))
      .limit(limit)
      .all()
      .map(({ state, attempts, lastError }) => ({ handOver: handOverOf(state, attempts), lastError }));
  }

  /** What became of the messages that got each wording by chance, of those that have left. */
  results(roundId: number, wordings: number): WordingResult[] {
    const isTracked = sql`(${message.trackOpens} and ${message.untrackedReason} is null)`;
    const sum = (condition: ReturnType<typeof sql>) => sql<number>`coalesce(sum(${condition}), 0)`.mapWith(Number);
    const rows = this.database
      .select({
        wording: roundMember.wording,
        sent: count(),
        replied: sum(sql`${message.replies} > 0`),
        withLinks: sum(sql`${message.hasLinks}`),
        clicked: sum(sql`${message.hasLinks} and ${message.clicks} > 0`),
        tracked: sum(isTracked),
        read: sum(sql`${isTracked} and ${isRead}`),
      })
      .from(message)
      .innerJoin(roundMember, eq(roundMember.messageId, message.id))
      .where(and(eq(message.roundId, roundId), eq(message.state, 'sent'), eq(roundMember.isRest, false)))
      .groupBy(roundMember.wording)
      .all();
    const by = new Map(rows.map((row) => [row.wording, row]));
    return Array.from({ length: wordings }, (_, wording) => {
      const row = by.get(wording);
      const rates = {
        replied: rateOf(row?.replied ?? 0, row?.sent ?? 0),
        clicked: rateOf(row?.clicked ?? 0, row?.withLinks ?? 0),
        read: rateOf(row?.read ?? 0, row?.tracked ?? 0),
      };
      return { sent: row?.sent ?? 0, rates };
    });
  }

  /** What is known of addresses, by how they are compared; what a round itself has sent to them does not count. */
  facts(addresses: readonly string[], roundId: number): Map<string, AddressFacts> {
    const main = alias(person, 'main');
    const id = sql<number>`coalesce(${main.id}, ${person.id})`;
    const rows = this.database
      .select({
        key: person.addressKey,
        personId: id,
        name: person.name,
        company: sql<string>`coalesce(${main.company}, ${person.company})`,
        zone: sql<string>`coalesce(${main.zone}, ${person.zone})`,
        optedOut: sql<number>`coalesce(${main.optedOutAt}, ${person.optedOutAt}) is not null`.mapWith(Boolean),
        doNotTrack: sql<number>`coalesce(${main.doNotTrack}, ${person.doNotTrack})`.mapWith(Boolean),
      })
      .from(person)
      .leftJoin(main, eq(main.id, person.mergedInto))
      .where(inArray(person.addressKey, addresses.map(addressKey)))
      .all();
    return new Map(rows.map((row) => [row.key, { ...row, ...this.lastMessage(row.personId, roundId) }]));
  }

  /** Whether one of these addresses is somebody’s who opted out. */
  hasOptedOut(addresses: readonly string[]): boolean {
    return [...this.facts(addresses, 0).values()].some(({ optedOut }) => optedOut);
  }

  /** The addresses of some people, in the order given. */
  mailboxes(personIds: readonly number[]): { name: string; address: string }[] {
    const rows = this.database
      .select({ id: person.id, name: person.name, address: person.address })
      .from(person)
      .where(inArray(person.id, [...personIds]))
      .all();
    const byId = new Map(rows.map(({ id, ...mailbox }) => [id, mailbox]));
    return personIds.flatMap((id) => byId.get(id) ?? []);
  }

  private lastMessage(personId: number, roundId: number): Pick<MemberFacts, 'bounced' | 'lastSentAt'> {
    const isOther = sql`${copy.messageId} not in (select ${message.id} from ${message} where ${message.roundId} = ${roundId})`;
    const of = and(eq(copy.personId, personId), isOther);
    const lastSentAt = this.database
      .select({ at: max(copy.sentAt) })
      .from(copy)
      .where(of)
      .get()!.at;
    const newest = this.database
      .select({ state: copy.state })
      .from(copy)
      .where(and(of, sql`${copy.state} <> 'queued'`))
      .orderBy(desc(copy.id))
      .limit(1)
      .get();
    return { bounced: newest?.state === 'failed', lastSentAt };
  }
}
