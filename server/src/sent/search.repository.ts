import { Inject, Injectable } from '@nestjs/common';
import { and, eq, inArray, sql, type SQL } from 'drizzle-orm';
import { searchedWords, snippetOf } from '@kiraku/core/sent';
import { DATABASE, type Database } from '../store/database.js';
import { isListed, listedAfter } from '../store/listed.js';
import { copy, messageBody, message, person } from '../store/schema.js';

/** What is searched of one message. */
export interface SearchedText {
  subject: string;
  people: string;
  body: string;
  note: string;
}

/** Of very many matches only the newest count: whoever gets so many looks for something else. */
export const MAX_FOUND = 1000;

/**
 * The full-text index of what was sent (SQLite FTS5): accents make no difference, and a word is found by its beginning.
 * Its rows have the numbers of their messages.
 */
@Injectable()
export class SearchRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  set(messageId: number, { subject, people, body: text, note }: SearchedText): void {
    this.remove(messageId);
    this.database.run(
      sql`insert into message_text (rowid, subject, people, body, note) values (${messageId}, ${subject}, ${people}, ${text}, ${note})`,
    );
  }

  remove(messageId: number): void {
    this.database.run(sql`delete from message_text where rowid = ${messageId}`);
  }

  /** Sent messages in the order in which they were written, from a number on. */
  sentAfter(id: number, limit: number): number[] {
    return listedAfter(this.database, id, limit);
  }

  /** What a message says, as far as it is searched; undefined for a draft, or one that is gone. */
  source(messageId: number) {
    const row = this.database
      .select({ subject: message.subject, note: message.note, recipients: message.recipients, html: messageBody.html })
      .from(message)
      .innerJoin(messageBody, eq(messageBody.messageId, message.id))
      .where(and(eq(message.id, messageId), isListed))
      .get();
    const known = this.database
      .selectDistinct({ name: person.name, company: person.company })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .where(eq(copy.messageId, messageId))
      .all();
    return row && { ...row, known: known.flatMap(({ name, company }) => [name, company]) };
  }

  /**
   * The matches that a condition leaves, the best first: those whose people or subject have all the words before those
   * that have some of them in message or note, whole words before their beginnings, and of each the newest first.
   */
  best(words: string, condition: (ids: number[]) => number[], limit: number, offset: number): number[] {
    const ranked = new Set<number>();
    for (const query of RANKS.map((rank) => rank(words))) {
      const found = this.database.all<{ id: number }>(query).map(({ id }) => id);
      const left = new Set(condition(found));
      for (const id of found) if (left.has(id)) ranked.add(id);
      // Whoever finds enough of these need not look for the next.
      if (ranked.size >= offset + limit) break;
    }
    return [...ranked].slice(offset, offset + limit);
  }

  /** Where the words stand in the messages and notes of some messages; empty where they stand in what the list shows. */
  snippets(words: string, ids: number[]): Record<number, string> {
    if (ids.length === 0) return {};
    const rows = this.database.all<Pick<SearchedText, 'body' | 'note'> & { id: number }>(
      sql`select rowid as id, body, note from message_text where ${inArray(sql`rowid`, ids)}`,
    );
    return Object.fromEntries(rows.map(({ id, body: text, note }) => [id, snippetOf([text, note], words)]));
  }
}

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
const RANKS: ((words: string) => SQL)[] = [
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
