import { Inject, Injectable } from '@nestjs/common';
import { and, asc, desc, eq, gte, isNotNull, lte, min, or } from 'drizzle-orm';
import type { OutboxCopy } from '@kiraku/core/contract';
import type { Waiting } from '@kiraku/core/delivery';
import { DATABASE, type Database } from '../store/database.js';
import { copy, message, outbox, submission } from '../store/schema.js';
import type { CopyOfMessage } from './delivery.repository.js';
import { wholeMail } from './mailBytes.js';

/** More than these are not read one by one. */
const MAX_OUTBOX_ROWS = 500;

type NewRow = typeof outbox.$inferInsert;

@Injectable()
export class OutboxRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

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

  add(row: Omit<NewRow, 'createdAt' | 'attempts' | 'nextAttemptAt'>, { since, ...waiting }: Waiting): void {
    this.database
      .insert(outbox)
      .values({ ...row, createdAt: since, ...waiting })
      .run();
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

  /** All that wait. */
  all(): CopyOfMessage[] {
    return this.database
      .select({ copyId: outbox.copyId, messageId: copy.messageId })
      .from(outbox)
      .innerJoin(copy, eq(copy.id, outbox.copyId))
      .all();
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
}
