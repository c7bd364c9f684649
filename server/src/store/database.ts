import { mkdirSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Sqlite from 'better-sqlite3';
import { drizzle, type BetterSQLite3Database } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import * as schema from './schema.js';

export type Database = BetterSQLite3Database<typeof schema> & { $client: Sqlite.Database };

/** Injection token of the one {@link Database}. */
export const DATABASE = Symbol('DATABASE');

const MIGRATIONS = join(dirname(fileURLToPath(import.meta.url)), '../../migrations');

/**
 * Opens the database file to read what is in it, as it is.
 *
 * @throws where there is none, or it cannot be read
 */
export function openToRead(file: string): Database {
  const client = new Sqlite(file, { readonly: true, fileMustExist: true });
  client.pragma('busy_timeout = 1000');
  client.pragma('cache_size = -16000');
  return drizzle(client, { schema, casing: 'snake_case' }) as Database;
}

/**
 * Opens the database file, made where there is none, and brings it to the current schema.
 *
 * WAL with synchronous=FULL: a transaction that has returned survives the loss of power.
 */
export function openDatabase(file: string): Database {
  mkdirSync(dirname(file), { recursive: true, mode: 0o700 });
  const client = new Sqlite(file);
  client.pragma('journal_mode = WAL');
  client.pragma('synchronous = FULL');
  // A migration may make a table anew; what refers to its rows must stay meanwhile.
  client.pragma('foreign_keys = OFF');
  // What is deleted (mail that has left, a person who is erased) is overwritten, not only let go.
  client.pragma('secure_delete = ON');
  // Pages that many events write go to the file once for all of them; the log may grow to 32 MB for it.
  client.pragma('wal_autocheckpoint = 8000');
  client.pragma('busy_timeout = 5000');
  // The system keeps the file’s pages anyway: a larger cache gained nothing on a million messages.
  client.pragma('cache_size = -16000');
  const database = drizzle(client, { schema, casing: 'snake_case' });
  migrate(database, { migrationsFolder: MIGRATIONS });
  client.pragma('foreign_keys = ON');
  return database as Database;
}

/** How many migrations have brought a database to its schema. */
export function migrationsOf(file: string): number {
  const { $client: client } = openToRead(file);
  try {
    return client.prepare<[], number>('select count(*) from __drizzle_migrations').pluck().get()!;
  } finally {
    client.close();
  }
}
