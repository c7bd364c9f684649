import { Inject, Injectable } from '@nestjs/common';
import { DATABASE, type Database } from '../store/database.js';
import { account } from '../store/schema.js';
import { removeSetting, setSetting, settingOf } from '../store/settings.js';

export type AccountRow = typeof account.$inferSelect;

@Injectable()
export class SettingsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  get<T>(key: string): T | undefined {
    return settingOf(this.database, key);
  }

  set(key: string, value: unknown): void {
    setSetting(this.database, key, value);
  }

  remove(key: string): void {
    removeSetting(this.database, key);
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
