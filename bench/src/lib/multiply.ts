import { DAY } from '@kiraku/core/time';
import { databaseFile, type Config } from '@kiraku/server/environment/config';
import { openDatabase } from '@kiraku/server/store/database';
import { newToken } from '@kiraku/server/tracking/tokens';
import type Sqlite from 'better-sqlite3';
import type { Seeded } from './seed.js';

/** Tables whose rows are made again for each part, in the order in which they refer to each other. */
const TABLES = ['person', 'message', 'message_body', 'copy', 'link', 'copy_link', 'event'];
/** Which table a column's number is counted in. */
const NUMBERED_BY: Record<string, string> = {
  message_id: 'message',
  copy_id: 'copy',
  link_id: 'link',
  person_id: 'person',
};
const HAVE_ADDRESSES = new Set(['recipients', 'address', 'address_key', 'message_id_header']);

/**
 * Makes as many parts of what is in a folder of {@link seed}, each with people, tokens and numbers of its own, and each a
 * week before the one before it. Copied by SQLite itself: a million messages in minutes.
 *
 * @returns the tokens of all parts
 */
export function multiply(config: Config, parts: number): Seeded {
  const database = openDatabase(databaseFile(config)).$client;
  database.function('new_token', { deterministic: false }, newToken);
  const span = Object.fromEntries(TABLES.map((table) => [table, spanOf(database, table)]));
  const statements = [
    ...TABLES.map((table) => copied(database, table, span)),
    `insert into message_text (rowid, subject, people, body, note)
     select rowid + @part * ${span['message']}, subject, people, body, note from message_text where rowid < ${span['message']}`,
  ].map((statement) => database.prepare(statement));
  for (let part = 1; part < parts; part += 1) {
    database.transaction(() => {
      for (const statement of statements) statement.run({ part });
    })();
  }
  database.pragma('wal_checkpoint(TRUNCATE)');
  const tokens = (query: string) => database.prepare(query).pluck().all() as string[];
  const seeded = {
    imageTokens: tokens('select image_token from copy order by id'),
    linkTokens: tokens('select token from copy_link order by link_id'),
  };
  database.close();
  return seeded;
}

/** How far the numbers of a table’s parts lie apart. */
function spanOf(database: Sqlite.Database, table: string): number {
  return (database.prepare(`select max(rowid) from ${table}`).pluck().get() as number) + 1;
}

/** The statement that copies the first part of a table as the part `@part`. */
function copied(database: Sqlite.Database, table: string, span: Record<string, number>): string {
  const columns = database.pragma(`table_info(${table})`) as { name: string }[];
  const values = columns.map(({ name }) => valueOf(table, name, span));
  return `insert into ${table} (${columns.map(({ name }) => name).join()}) select ${values.join()} from ${table} where rowid < ${span[table]}`;
}

function valueOf(table: string, column: string, span: Record<string, number>): string {
  const numberedBy = column === 'id' ? table : NUMBERED_BY[column];
  if (numberedBy) return `${column} + @part * ${span[numberedBy]}`;
  if (column === 'at' || column.endsWith('_at')) return `${column} - @part * ${7 * DAY}`;
  if (column.endsWith('token')) return 'new_token()';
  if (HAVE_ADDRESSES.has(column)) return `replace(${column}, '@', '.' || @part || '@')`;
  return column;
}
