import { Inject, Injectable } from '@nestjs/common';
import { and, desc, eq, gt, lte, ne, or, sql } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { session } from '../store/schema.js';

type SessionRow = typeof session.$inferSelect;

@Injectable()
export class SessionRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  add(row: typeof session.$inferInsert): void {
    this.database.insert(session).values(row).run();
  }

  find(tokenHash: string): SessionRow | undefined {
    return this.database.select().from(session).where(eq(session.tokenHash, tokenHash)).get();
  }

  /** Those that have not expired and were seen since a time, the last seen first. */
  list(now: number, seenSince: number): SessionRow[] {
    return this.database
      .select()
      .from(session)
      .where(and(gt(session.expiresAt, now), gt(session.lastSeenAt, seenSince)))
      .orderBy(desc(session.lastSeenAt))
      .all();
  }

  seen(tokenHash: string, lastSeenAt: number): void {
    this.database.update(session).set({ lastSeenAt }).where(eq(session.tokenHash, tokenHash)).run();
  }

  remove(tokenHash: string): void {
    this.database.delete(session).where(eq(session.tokenHash, tokenHash)).run();
  }

  removeByPrefix(prefix: string): void {
    this.database
      .delete(session)
      .where(sql`substr(${session.tokenHash}, 1, ${prefix.length}) = ${prefix}`)
      .run();
  }

  removeAllBut(tokenHash: string): void {
    this.database.delete(session).where(ne(session.tokenHash, tokenHash)).run();
  }

  removeAll(): void {
    this.database.delete(session).run();
  }

  /** Those that have expired, or were not seen since a time. */
  removeEnded(now: number, seenSince: number): void {
    this.database
      .delete(session)
      .where(or(lte(session.expiresAt, now), lte(session.lastSeenAt, seenSince)))
      .run();
  }
}
