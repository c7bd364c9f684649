import { Inject, Injectable } from '@nestjs/common';
import { and, asc, count, desc, eq, getTableColumns, inArray, isNotNull, max, ne, not, sql } from 'drizzle-orm';
import { type SQLiteUpdateSetSource } from 'drizzle-orm/sqlite-core';
import type { Recipient, WordingResult } from '@kiraku/core/contract';
import { NOT_LEFT } from '@kiraku/core/delivery';
import { RateCounter } from '@kiraku/core/reports';
import { handOverOf, type HandOver, type MemberFacts } from '@kiraku/core/rounds';
import { RecipientsRepository, type KnownPerson } from '../messages/recipients.repository.js';
import { DATABASE, type Database } from '../store/database.js';
import { SUM_OF_FACTS } from '../store/messageFacts.js';
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

/** What became of the last message to somebody. */
export type LastMessage = Pick<MemberFacts, 'bounced' | 'lastSentAt'>;

const hasNotLeft = inArray(message.state, [...NOT_LEFT]);

@Injectable()
export class RoundsRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly recipients: RecipientsRepository,
  ) {}

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
    return this.database
      .select({
        id: round.id,
        name: round.name,
        state: round.state,
        createdAt: round.createdAt,
        people: of(sql`not ${roundMember.leftOut}`),
        sent: of(sql`${message.state} = 'sent'`),
        failed: of(sql`${message.state} = 'failed'`),
        waiting: of(sql`${hasNotLeft} and not ${roundMember.leftOut}`),
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

  addMembers(values: (typeof roundMember.$inferInsert)[]): void {
    if (values.length > 0) this.database.insert(roundMember).values(values).run();
  }

  setMembers(messageIds: readonly number[], values: SQLiteUpdateSetSource<typeof roundMember>): void {
    this.database
      .update(roundMember)
      .set(values)
      .where(inArray(roundMember.messageId, [...messageIds]))
      .run();
  }

  /** Notes that some messages stand as they were filled in, and not as somebody changed them. */
  noteFilled(messageIds: readonly number[]): void {
    const revision = this.database
      .select({ revision: message.revision })
      .from(message)
      .where(eq(message.id, roundMember.messageId));
    this.setMembers(messageIds, { filledRevision: sql`(${revision})` });
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

  /**
   * How many are in a round, and the place of whoever is added next: members can be gone from between, erased, or their
   * draft deleted.
   */
  size(roundId: number): { people: number; nextPosition: number } {
    const row = this.database
      .select({ people: count(), last: max(roundMember.position) })
      .from(roundMember)
      .innerJoin(message, eq(message.id, roundMember.messageId))
      .where(eq(message.roundId, roundId))
      .get()!;
    return { people: row.people, nextPosition: (row.last ?? -1) + 1 };
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
      .where(and(eq(message.roundId, roundId), not(hasNotLeft), sql`${message.queuedAt} >= ${since}`))
      .orderBy(desc(copy.id))
      .limit(limit)
      .all()
      .map(({ state, attempts, lastError }) => ({ handOver: handOverOf(state, attempts), lastError }));
  }

  /** What became of the messages that got each wording by chance, of those that have left. */
  results(roundId: number, wordings: number): WordingResult[] {
    const rows = this.database
      .select({ wording: roundMember.wording, facts: SUM_OF_FACTS })
      .from(message)
      .innerJoin(roundMember, eq(roundMember.messageId, message.id))
      .where(and(eq(message.roundId, roundId), eq(message.state, 'sent'), eq(roundMember.isRest, false)))
      .all();
    const counters = Array.from({ length: wordings }, () => new RateCounter());
    for (const { wording, facts } of rows) counters[wording]?.add(facts);
    return counters.map((counter) => ({ sent: counter.messages, rates: counter.evidence() }));
  }

  /** Whose addresses these are, by how they are compared; of whoever was merged into another, that other. */
  people(addresses: readonly string[]): Map<string, KnownPerson> {
    return this.recipients.people(addresses);
  }

  /** The last messages to some people, besides those of a round. */
  lastMessages(personIds: readonly number[], roundId: number): Map<number, LastMessage> {
    const isOther = sql`${copy.messageId} not in (select ${message.id} from ${message} where ${message.roundId} = ${roundId})`;
    const ofThese = and(inArray(copy.personId, [...personIds]), isOther);
    const sent = this.database
      .select({ personId: copy.personId, at: max(copy.sentAt) })
      .from(copy)
      .where(ofThese)
      .groupBy(copy.personId)
      .all();
    // Beside max(), SQLite gives the other columns of the row in which it was found.
    const newest = this.database
      .select({ personId: copy.personId, id: max(copy.id), state: copy.state })
      .from(copy)
      .where(and(ofThese, ne(copy.state, 'queued')))
      .groupBy(copy.personId)
      .all();
    const stateOf = new Map(newest.map(({ personId, state }) => [personId, state]));
    return new Map(
      sent.map(({ personId, at }) => [personId!, { lastSentAt: at, bounced: stateOf.get(personId) === 'failed' }]),
    );
  }

  /** Those of some addresses, by how they are compared, whose people opted out. */
  optedOut(addresses: readonly string[]): Set<string> {
    return new Set([...this.people(addresses)].flatMap(([key, { optedOut }]) => (optedOut ? [key] : [])));
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
}
