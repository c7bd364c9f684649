import { sql, type SQL } from 'drizzle-orm';
import type { AnySQLiteColumn } from 'drizzle-orm/sqlite-core';

/** Whether a column contains a text, in any case of its ASCII letters; nothing within the text is a wildcard. */
export function contains(column: AnySQLiteColumn, text: string): SQL {
  return sql`${column} like ${`%${escaped(text)}%`} escape '\\'`;
}

/** Whether a word of a column begins with a text. */
export function beginsWord(column: AnySQLiteColumn, text: string): SQL {
  return sql`' ' || ${column} like ${`% ${escaped(text)}%`} escape '\\'`;
}

/** The same at the end of the column. */
export function endsWith(column: AnySQLiteColumn, text: string): SQL {
  return sql`${column} like ${`%${escaped(text)}`} escape '\\'`;
}

function escaped(text: string): string {
  return text.replace(/[\\%_]/g, '\\$&');
}
