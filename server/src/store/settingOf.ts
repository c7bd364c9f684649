import { eq } from 'drizzle-orm';
import type { Database } from './database.js';
import { setting } from './schema.js';

/** The value of a setting; undefined where nothing was chosen. */
export function settingOf<T>(database: Database, key: string): T | undefined {
  return database.select().from(setting).where(eq(setting.key, key)).get()?.value as T | undefined;
}
