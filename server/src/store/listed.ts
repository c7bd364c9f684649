import { and, count, gt, sql } from 'drizzle-orm';
import type { Database } from './database.js';
import { message } from './schema.js';

/** Whether a message stands in the list, and is no draft; in the words of the list’s indexes. */
export const isListed = sql`${message.lastActivityAt} > 0`;

/** Whether a message is archived or at hand, and not deleted; in the words of the list’s index. */
export const isKept = sql`${message.folder} is not 'deleted'`;

/** Messages that are no drafts, whatever folder they are in, in the order in which they were written, from a number on. */
export function listedAfter(database: Database, id: number, limit: number): number[] {
  return database
    .select({ id: message.id })
    .from(message)
    .where(and(gt(message.id, id), isListed))
    .orderBy(message.id)
    .limit(limit)
    .all()
    .map((row) => row.id);
}

/** How many messages are no drafts. */
export function countListed(database: Database): number {
  return database.select({ n: count() }).from(message).where(isListed).get()!.n;
}
