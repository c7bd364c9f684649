import { eq } from 'drizzle-orm';
import type { Database } from './database.js';
import { setting } from './schema.js';

/** The value of a setting; undefined where nothing was chosen. */
export function settingOf<T>(database: Database, key: string): T | undefined {
  return database.select().from(setting).where(eq(setting.key, key)).get()?.value as T | undefined;
}

export function setSetting(database: Database, key: string, value: unknown): void {
  database.insert(setting).values({ key, value }).onConflictDoUpdate({ target: setting.key, set: { value } }).run();
}

export function removeSetting(database: Database, key: string): void {
  database.delete(setting).where(eq(setting.key, key)).run();
}
