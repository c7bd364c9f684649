import { Inject, Injectable } from '@nestjs/common';
import { eq } from 'drizzle-orm';
import type { CheckName, CheckView, Finding } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { check } from '../store/schema.js';

/** What the check-up found last. */
@Injectable()
export class ChecksRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  all(): CheckView[] {
    return this.database.select().from(check).all().map(viewOf);
  }

  find(name: CheckName): CheckView | undefined {
    const row = this.database.select().from(check).where(eq(check.name, name)).get();
    return row && viewOf(row);
  }

  save(name: CheckName, finding: Finding, times: Pick<CheckView, 'since' | 'at'>): void {
    const set = { ...finding, ...times };
    this.database
      .insert(check)
      .values({ name, ...set })
      .onConflictDoUpdate({ target: check.name, set })
      .run();
  }

  /** Notes whether an email about one is to leave yet. */
  setEmailPending(name: CheckName, emailPending: boolean): void {
    this.database.update(check).set({ emailPending }).where(eq(check.name, name)).run();
  }

  /** Those about which an email is to leave. */
  emailPending(): CheckView[] {
    return this.database.select().from(check).where(eq(check.emailPending, true)).all().map(viewOf);
  }
}

function viewOf({ emailPending: _pending, ...view }: typeof check.$inferSelect): CheckView {
  return view;
}
