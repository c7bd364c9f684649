import { Inject, Injectable } from '@nestjs/common';
import { asc, eq } from 'drizzle-orm';
import type { AppPasswordView } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { appPassword } from '../store/schema.js';

@Injectable()
export class AppPasswordsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  list(): AppPasswordView[] {
    const { id, name, createdAt, lastUsedAt } = appPassword;
    return this.database.select({ id, name, createdAt, lastUsedAt }).from(appPassword).orderBy(asc(id)).all();
  }

  add(name: string, hash: string, now: number): AppPasswordView {
    const { id, createdAt, lastUsedAt } = this.database
      .insert(appPassword)
      .values({ name, hash, createdAt: now })
      .returning()
      .get();
    return { id, name, createdAt, lastUsedAt };
  }

  remove(id: number): boolean {
    return this.database.delete(appPassword).where(eq(appPassword.id, id)).run().changes === 1;
  }

  /** Notes that a password was used; false where there is none with this hash. */
  use(hash: string, now: number): boolean {
    return (
      this.database.update(appPassword).set({ lastUsedAt: now }).where(eq(appPassword.hash, hash)).run().changes === 1
    );
  }
}
