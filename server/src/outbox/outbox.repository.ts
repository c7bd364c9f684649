import { Inject, Injectable } from '@nestjs/common';
import { and, asc, count, desc, eq, gte, isNotNull, lte, min, or, sql } from 'drizzle-orm';
import type { OutboxCopy, DsnState } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { copy, message, outbox, submission } from '../store/schema.js';
import { wholeMail } from './mailBytes.js';

/** More than these are not read one by one. */
const MAX_OUTBOX_ROWS = 500;

@Injectable()
export class OutboxRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Takes over what became of the copies; the message is sent when none waits any longer and one has left. */
  finish(messageId: number): void {
    const states = this.database
      .select({ state: copy.state, n: count(), sentAt: min(copy.sentAt) })
      .from(copy)
      .where(eq(copy.messageId, messageId))
      .groupBy(copy.state)
      .all();
    const has = (state: string) => states.some((one) => one.state === state);
    const sentAt = states.find((one) => one.state === 'sent')?.sentAt ?? null;
    const state = has('queued') ? 'queued' : has('sent') ? 'sent' : 'failed';
    const lastActivityAt = sql`max(${message.lastActivityAt}, ${sentAt ?? 0})`;
    this.database.update(message).set({ state, sentAt, lastActivityAt }).where(eq(message.id, messageId)).run();
  }

  copySent(copyId: number, sentAt: number, dsnState: DsnState | null): number {
    return this.updateCopy(copyId, { state: 'sent', sentAt, lastError: null, dsnState });
  }

  copyFailed(copyId: number, lastError: string): number {
    return this.updateCopy(copyId, { state: 'failed', lastError });
  }

  copyDelayed(copyId: number, lastError: string): number {
    return this.updateCopy(copyId, { lastError });
  }

  /** Copies that wait, and those that failed since a time; newest first. */
  waiting(failedSince: number): OutboxCopy[] {
    const { id, messageId, kind, name, address, state, lastError } = copy;
    const rows = this.database
      .select({
        copyId: id,
        messageId,
        kind,
        name,
        address,
        state,
        lastError,
        subject: message.subject,
        queuedAt: message.queuedAt,
        attempts: outbox.attempts,
        createdAt: outbox.createdAt,
        nextAttemptAt: outbox.nextAttemptAt,
      })
      .from(copy)
      .innerJoin(message, eq(message.id, copy.messageId))
      .leftJoin(outbox, eq(outbox.copyId, copy.id))
      .where(or(eq(copy.state, 'queued'), and(eq(copy.state, 'failed'), gte(message.queuedAt, failedSince))))
      .orderBy(desc(copy.id))
      .limit(MAX_OUTBOX_ROWS)
      .all();
    return rows.map(({ kind: recipientKind, name: recipientName, address: to, queuedAt, ...row }) => ({
      ...row,
      recipient: { kind: recipientKind, name: recipientName, address: to },
      attempts: row.attempts ?? 0,
      createdAt: row.createdAt ?? queuedAt ?? 0,
    }));
  }

  /** What the mail server is to be asked for with a copy, besides to take it. */
  receiptRequests(copyId: number): { messageId: number; requestDsn: boolean; messageIdHeader: string } {
    const { messageId, messageIdHeader } = copy;
    return this.database
      .select({ messageId, requestDsn: message.requestDsn, messageIdHeader })
      .from(copy)
      .innerJoin(message, eq(message.id, copy.messageId))
      .where(eq(copy.id, copyId))
      .get()!;
  }

  add(row: typeof outbox.$inferInsert): void {
    this.database.insert(outbox).values(row).run();
  }

  /** Copies that are due, the longest waiting first; without their content, which may be large. */
  due(now: number, limit: number): number[] {
    const rows = this.database
      .select({ copyId: outbox.copyId })
      .from(outbox)
      .where(lte(outbox.nextAttemptAt, now))
      .orderBy(asc(outbox.nextAttemptAt))
      .limit(limit)
      .all();
    return rows.map((row) => row.copyId);
  }

  find(copyId: number): typeof outbox.$inferSelect | undefined {
    return this.database.select().from(outbox).where(eq(outbox.copyId, copyId)).get();
  }

  /** What the copies of a message share that was submitted. */
  shared(messageId: number): Buffer | null {
    return this.database.select().from(submission).where(eq(submission.messageId, messageId)).get()?.raw ?? null;
  }

  /** Writes the waiting copies of a message out whole, so that they need nothing besides. */
  keepWhole(messageId: number): void {
    const shared = this.shared(messageId);
    const rows = this.database
      .select({ copyId: outbox.copyId, own: outbox.raw, pieces: outbox.pieces })
      .from(outbox)
      .innerJoin(copy, eq(copy.id, outbox.copyId))
      .where(and(eq(copy.messageId, messageId), isNotNull(outbox.pieces)))
      .all();
    for (const { copyId, ...mail } of rows) {
      const set = { raw: wholeMail(mail, shared), pieces: null };
      this.database.update(outbox).set(set).where(eq(outbox.copyId, copyId)).run();
    }
  }

  nextDueAt(): number | null {
    return (
      this.database
        .select({ at: min(outbox.nextAttemptAt) })
        .from(outbox)
        .get()?.at ?? null
    );
  }

  postpone(copyId: number, attempts: number, nextAttemptAt: number): void {
    this.database.update(outbox).set({ attempts, nextAttemptAt }).where(eq(outbox.copyId, copyId)).run();
  }

  remove(copyId: number): void {
    this.database.delete(outbox).where(eq(outbox.copyId, copyId)).run();
  }

  private updateCopy(copyId: number, set: Partial<typeof copy.$inferInsert>): number {
    return this.database.update(copy).set(set).where(eq(copy.id, copyId)).returning({ id: copy.messageId }).get()!.id;
  }
}
