import { Inject, Injectable } from '@nestjs/common';
import { and, count, desc, eq, inArray, sql } from 'drizzle-orm';
import type { HistoryImportRow } from '@kiraku/core/contract';
import type { EarlierMail, PersonFound } from '@kiraku/core/history';
import { addressKey } from '@kiraku/core/message';
import { RecipientsRepository } from '../messages/recipients.repository.js';
import { ErasuresRepository } from '../people/erasures.repository.js';
import { DATABASE, type Database } from '../store/database.js';
import { copy, historyImport, historyMessage, historyPerson, message, messageBody, person } from '../store/schema.js';
import { newToken } from '../tracking/tokens.js';

/** Why nothing of an imported message is tracked. */
const UNTRACKED = 'it was sent before Kiraku';

/** A mail with what is shown of it, which may not run or load anything. */
export interface ImportedMail extends EarlierMail {
  messageIdHeader: string;
  html: string;
}

/** What imports of earlier mail have written, so that it can be undone. Call what writes in a unit of work. */
@Injectable()
export class HistoryRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly recipients: RecipientsRepository,
    private readonly erasures: ErasuresRepository,
  ) {}

  /** The newest first. */
  imports(): HistoryImportRow[] {
    const messages = this.database
      .select({ n: count() })
      .from(historyMessage)
      .where(eq(historyMessage.importId, historyImport.id));
    const people = this.database
      .select({ n: count() })
      .from(historyPerson)
      .where(eq(historyPerson.importId, historyImport.id));
    const { id, at, source, withMessages } = historyImport;
    return this.database
      .select({ id, at, source, withMessages, messages: sql<number>`${messages}`, people: sql<number>`${people}` })
      .from(historyImport)
      .orderBy(desc(id))
      .all();
  }

  begin(source: string, withMessages: boolean, now: number): number {
    return this.database
      .insert(historyImport)
      .values({ at: now, source, withMessages })
      .returning({ id: historyImport.id })
      .get().id;
  }

  /** Whether a message with this Message-ID is here. */
  isKnown(messageIdHeader: string): boolean {
    const known = eq(copy.messageIdHeader, messageIdHeader);
    return this.database.select({ id: copy.id }).from(copy).where(known).limit(1).get() !== undefined;
  }

  /** Notes of somebody that they were written to; whoever was erased stays so. */
  addPerson(importId: number, { name, address, messages, lastAt }: PersonFound, now: number): void {
    const known = this.known(address, name, now);
    if (!known) return;
    this.note({ importId, personId: known.id, isNew: known.isNew, messages, lastContactAt: lastAt });
    this.recount([known.id]);
  }

  /** Adds messages as ones that were sent without tracking; whoever was erased is none of their recipients. */
  addMessages(importId: number, mails: readonly ImportedMail[], now: number): void {
    this.recount([...new Set(mails.flatMap((mail) => this.addMessage(importId, mail, now)))]);
  }

  /** @returns to whom it went */
  private addMessage(importId: number, mail: ImportedMail, now: number): number[] {
    const { at, from, subject, conversation, messageIdHeader, html } = mail;
    const recipients = mail.recipients.flatMap((recipient) => {
      const known = this.known(recipient.address, recipient.name, now);
      return known ? [{ recipient, known }] : [];
    });
    if (recipients.length === 0) return [];
    const { id: messageId } = this.database
      .insert(message)
      .values({
        ...{ state: 'sent', origin: 'imported', revision: 1, subject, conversation, untrackedReason: UNTRACKED },
        ...{ senderName: from.name, senderAddress: from.address, trackOpens: false, trackClicks: false },
        ...{ recipients: recipients.map(({ recipient }) => recipient), createdAt: now, updatedAt: now },
        ...{ queuedAt: at, sentAt: at, lastActivityAt: at },
      })
      .returning({ id: message.id })
      .get();
    this.database.insert(messageBody).values({ messageId, html }).run();
    this.database.insert(historyMessage).values({ messageId, importId }).run();
    for (const { recipient, known } of recipients) {
      this.note({ importId, personId: known.id, isNew: known.isNew, messages: 0, lastContactAt: 0 });
      this.recipients.countMessage(known.id);
      this.database
        .insert(copy)
        .values({
          ...{ messageId, personId: known.id, ...recipient, state: 'sent', messageIdHeader },
          ...{ imageToken: newToken(), sentAt: at },
        })
        .run();
    }
    return recipients.map(({ known }) => known.id);
  }

  /** Takes some of the messages of an import away. Returns how many; nought where none is left. */
  removeMessages(importId: number, limit: number): number {
    const ids = this.database
      .select({ id: historyMessage.messageId })
      .from(historyMessage)
      .where(eq(historyMessage.importId, importId))
      .limit(limit)
      .all()
      .map(({ id }) => id);
    if (ids.length === 0) return 0;
    const people = this.database
      .select({ id: copy.personId, n: count() })
      .from(copy)
      .where(inArray(copy.messageId, ids))
      .groupBy(copy.personId)
      .all();
    this.database.delete(message).where(inArray(message.id, ids)).run();
    for (const { id, n } of people)
      this.database
        .update(person)
        .set({ messages: sql`max(0, ${person.messages} - ${n})` })
        .where(eq(person.id, id))
        .run();
    this.recount(people.map(({ id }) => id));
    return ids.length;
  }

  /** Takes the rest of an import away: who was new, and was not written to since, is forgotten. Returns how many. */
  remove(importId: number): number {
    const rows = this.database.select().from(historyPerson).where(eq(historyPerson.importId, importId)).all();
    this.database.delete(historyPerson).where(eq(historyPerson.importId, importId)).run();
    this.database.delete(historyImport).where(eq(historyImport.id, importId)).run();
    this.recount(rows.map(({ personId }) => personId));
    return rows.filter(({ isNew, personId }) => isNew && this.forgetUnwritten(personId)).length;
  }

  private forgetUnwritten(personId: number): boolean {
    const copies = this.database.select({ id: copy.id }).from(copy).where(eq(copy.personId, personId));
    const unwritten = and(eq(person.id, personId), eq(person.messages, 0), sql`not exists ${copies}`);
    return this.database.delete(person).where(unwritten).run().changes > 0;
  }

  /** Whoever has an address; null for somebody who was erased. */
  private known(address: string, name: string, now: number): { id: number; isNew: boolean } | null {
    const key = eq(person.addressKey, addressKey(address));
    const isNew = this.database.select({ id: person.id }).from(person).where(key).get() === undefined;
    if (isNew && this.erasures.isErased(address)) return null;
    return { id: this.recipients.ensure({ name, address }, now), isNew };
  }

  private note(row: typeof historyPerson.$inferInsert): void {
    this.database.insert(historyPerson).values(row).onConflictDoNothing().run();
  }

  /**
   * Counts anew what is known of earlier mail that is not here itself: the most that one import has found, since the next may
   * have read the same, less those that have been imported.
   */
  private recount(personIds: readonly number[]): void {
    for (const id of personIds) {
      const { most, lastAt } = this.database
        .select({
          most: sql<number>`coalesce(max(${historyPerson.messages}), 0)`,
          lastAt: sql<number>`coalesce(max(${historyPerson.lastContactAt}), 0)`,
        })
        .from(historyPerson)
        .where(eq(historyPerson.personId, id))
        .get()!;
      const earlierMessages = most === 0 ? 0 : Math.max(0, most - this.importedTo(id));
      this.database
        .update(person)
        .set({
          messages: sql`max(0, ${person.messages} - ${person.earlierMessages} + ${earlierMessages})`,
          earlierMessages,
          earlierContactAt: lastAt || null,
        })
        .where(eq(person.id, id))
        .run();
    }
  }

  private importedTo(personId: number): number {
    return this.database
      .select({ n: count() })
      .from(copy)
      .innerJoin(historyMessage, eq(historyMessage.messageId, copy.messageId))
      .where(eq(copy.personId, personId))
      .get()!.n;
  }
}
