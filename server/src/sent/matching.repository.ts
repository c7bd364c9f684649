import { sql, type SQL } from 'drizzle-orm';
import { searchedWords } from '@kiraku/core/sent';

/** Of very many matches only the newest count: whoever gets so many looks for something else. */
export const MAX_FOUND = 1000;

/** The numbers of the messages that are found: as many as are shown by how well they match. */
export function matching(words: string): SQL {
  return sql.join(
    RANKS.map((rank) => sql`select id from (${rank(words)})`),
    sql` union `,
  );
}

/**
 * In which order matches are shown. Whole words also come soonest: FTS5 reads them from the newest on, where it gathers
 * all that begins in some way.
 */
export const RANKS: ((words: string) => SQL)[] = [
  (words) => newest(inHead(wholeQuery(words))),
  (words) => newest(inHead(matchQuery(words))),
  (words) => newest(wholeQuery(words)),
  (words) => newest(matchQuery(words)),
];

/** What people and subject have. */
function inHead(query: string): string {
  return `{subject people} : (${query})`;
}

/** By number, which SQLite reads from the index without looking at all matches. */
function newest(query: string): SQL {
  return sql`select rowid as id from message_text where message_text match ${query} order by rowid desc limit ${MAX_FOUND}`;
}

/** Every word by its beginning, all of them; nothing that was typed is taken for an operator. */
export function matchQuery(words: string): string {
  return queryOf(words, '*');
}

/** Every word as it is. */
function wholeQuery(words: string): string {
  return queryOf(words, '');
}

function queryOf(words: string, end: string): string {
  const tokens = searchedWords(words);
  return tokens.length === 0 ? '""' : tokens.map((token) => `"${token}"${end}`).join(' ');
}
