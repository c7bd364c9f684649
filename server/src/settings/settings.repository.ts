import { Inject, Injectable } from '@nestjs/common';
import { eq } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { account, setting } from '../store/schema.js';
import { settingOf } from '../store/settingOf.js';

export type AccountRow = typeof account.$inferSelect;

@Injectable()
export class SettingsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  get<T>(key: string): T | undefined {
    return settingOf(this.database, key);
  }

  set(key: string, value: unknown): void {
    this.database
      .insert(setting)
      .values({ key, value })
      .onConflictDoUpdate({ target: setting.key, set: { value } })
      .run();
  }

  remove(key: string): void {
    this.database.delete(setting).where(eq(setting.key, key)).run();
  }

  /** The one sender identity with its way out; undefined before set-up. */
  account(): AccountRow | undefined {
    return this.database.select().from(account).limit(1).get();
  }

  saveAccount(row: Omit<AccountRow, 'id'>): void {
    const values = { id: 1, ...row };
    this.database.insert(account).values(values).onConflictDoUpdate({ target: account.id, set: row }).run();
  }
}
