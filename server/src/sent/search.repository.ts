import { Inject, Injectable } from '@nestjs/common';
import { and, eq, inArray, sql } from 'drizzle-orm';
import { snippetOf } from '@kiraku/core/sent';
import { DATABASE, type Database } from '../store/database.js';
import { isListed, listedAfter } from '../store/listed.js';
import { copy, messageBody, message, person } from '../store/schema.js';
import { RANKS } from './matching.repository.js';

/** What is searched of one message. */
export interface SearchedText {
  subject: string;
  people: string;
  body: string;
  note: string;
}

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
