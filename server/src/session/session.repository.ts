import { Inject, Injectable } from '@nestjs/common';
import { eq, lt } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { session } from '../store/schema.js';

@Injectable()
export class SessionRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  add(row: typeof session.$inferInsert): void {
    this.database.insert(session).values(row).run();
  }

  expiresAt(tokenHash: string): number | undefined {
    return this.database.select().from(session).where(eq(session.tokenHash, tokenHash)).get()?.expiresAt;
  }

  remove(tokenHash: string): void {
    this.database.delete(session).where(eq(session.tokenHash, tokenHash)).run();
  }

  removeExpired(now: number): void {
    this.database.delete(session).where(lt(session.expiresAt, now)).run();
  }
}
