import { Inject, Injectable } from '@nestjs/common';
import { eq, min, sql } from 'drizzle-orm';
import { afterDelivery, messageDelivery, type CopyDelivery, type DeliveryEvent } from '@kiraku/core/delivery';
import { DATABASE, type Database } from '../store/database.js';
import { copy, message, outbox } from '../store/schema.js';

/** A copy, and of which message. */
export interface CopyOfMessage {
  copyId: number;
  messageId: number;
}

/** How copies, and the messages of which they are, stand with the mail servers. What may follow what is the core’s. */
@Injectable()
export class DeliveryRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  private of(copyId: number): CopyDelivery {
    const { state, sentAt, lastError, dsnState } = copy;
    const { createdAt: since, attempts, nextAttemptAt } = outbox;
    return this.database
      .select({ state, sentAt, lastError, dsnState, waiting: { since, attempts, nextAttemptAt } })
      .from(copy)
      .leftJoin(outbox, eq(outbox.copyId, copy.id))
      .where(eq(copy.id, copyId))
      .get()!;
  }

  /**
   * Lets something happen to a copy, and with it to its message. Call it in the transaction of all that follows from it.
   *
   * @returns how the copy stands then; null where that changed nothing
   */
  apply(copyId: number, event: DeliveryEvent): CopyDelivery | null {
    const after = afterDelivery(this.of(copyId), event);
    if (!after) return null;
    const { waiting, ...set } = after;
    const { messageId } = this.database
      .update(copy)
      .set(set)
      .where(eq(copy.id, copyId))
      .returning({ messageId: copy.messageId })
      .get()!;
    if (waiting) this.postpone(copyId, waiting);
    else this.database.delete(outbox).where(eq(outbox.copyId, copyId)).run();
    this.updateMessage(messageId);
    return after;
  }

  /** Not where it is resent: what is to leave is put into the outbox after it. */
  private postpone(copyId: number, { attempts, nextAttemptAt }: NonNullable<CopyDelivery['waiting']>): void {
    this.database.update(outbox).set({ attempts, nextAttemptAt }).where(eq(outbox.copyId, copyId)).run();
  }

  private updateMessage(messageId: number): void {
    const copies = this.database
      .select({ state: copy.state, sentAt: min(copy.sentAt) })
      .from(copy)
      .where(eq(copy.messageId, messageId))
      .groupBy(copy.state)
      .all();
    const { state, sentAt } = messageDelivery(copies);
    const lastActivityAt = sql`max(${message.lastActivityAt}, ${sentAt ?? 0})`;
    this.database.update(message).set({ state, sentAt, lastActivityAt }).where(eq(message.id, messageId)).run();
  }
}
