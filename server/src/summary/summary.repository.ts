import { Inject, Injectable } from '@nestjs/common';
import { and, count, desc, eq, gt, isNull, sql } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { message } from '../store/schema.js';

/** In the words of the list’s index: something has happened since, and not only the sending. */
const isActiveSince = (since: number) =>
  and(
    isNull(message.folder),
    gt(message.lastActivityAt, since),
    eq(message.state, 'sent'),
    gt(message.lastActivityAt, message.sentAt),
  );

const inOrder = sql`${message} indexed by message_list`;

@Injectable()
export class SummaryRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Messages that something happened to since a time, the latest first. */
  activeSince(since: number, limit: number): number[] {
    return this.database
      .select({ id: sql<number>`${message.id}` })
      .from(inOrder)
      .where(isActiveSince(since))
      .orderBy(desc(message.lastActivityAt))
      .limit(limit)
      .all()
      .map(({ id }) => id);
  }

  countActiveSince(since: number): number {
    return this.database.select({ n: count() }).from(inOrder).where(isActiveSince(since)).get()!.n;
  }
}
