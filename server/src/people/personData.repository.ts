import { Inject, Injectable } from '@nestjs/common';
import { and, asc, eq, inArray, isNull, or, sql } from 'drizzle-orm';
import type { AnySQLiteColumn } from 'drizzle-orm/sqlite-core';
import type { PersonData, Recipient } from '@kiraku/core/contract';
import { addressKey } from '@kiraku/core/message';
import { DeliveryRepository } from '../delivery/delivery.repository.js';
import { OutboxRepository } from '../delivery/outbox.repository.js';
import { SearchRepository } from '../sent/search.repository.js';
import { DATABASE, type Database } from '../store/database.js';
import {
  agent,
  copy,
  event,
  incoming,
  link,
  mailboxFailure,
  message,
  person,
  reading,
  refusedMail,
  reminder,
  sentFile,
  submission,
} from '../store/schema.js';
import { TagsRepository } from './tags.repository.js';

/** What stands where a person was. RFC 2606: nobody has this address. */
const NOBODY = { name: '', address: 'erased@erased.invalid' };

/** A copy that waits does not leave any more. */
const WITHDRAWN = { kind: 'withdrawn', words: 'Its recipient was erased before it was sent.' } as const;

@Injectable()
export class PersonDataRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly outbox: OutboxRepository,
    private readonly delivery: DeliveryRepository,
    private readonly search: SearchRepository,
    private readonly tags: TagsRepository,
  ) {}

  /** Call it after the commit: the log beside the file then holds no more of what was deleted than the file. */
  shred(): void {
    this.database.$client.pragma('wal_checkpoint(TRUNCATE)');
  }

  person(id: number): PersonData['person'] | undefined {
    const { name, address, company, phone, zone, note, mutedAt, createdAt, doNotTrack, optedOutAt } = person;
    const row = this.database
      .select({ id: person.id, name, address, company, phone, zone, note, mutedAt, createdAt, doNotTrack, optedOutAt })
      .from(person)
      .where(eq(person.id, id))
      .get();
    return row && { ...row, tags: this.tags.of([id]).get(id) ?? [] };
  }

  messages(personId: number): PersonData['messages'] {
    return this.database
      .select({
        messageId: copy.messageId,
        subject: message.subject,
        as: copy.kind,
        sentAt: copy.sentAt,
        state: copy.state,
      })
      .from(copy)
      .innerJoin(message, eq(message.id, copy.messageId))
      .where(eq(copy.personId, personId))
      .orderBy(asc(copy.id))
      .all();
  }

  events(personId: number): PersonData['events'] {
    return this.database
      .select({
        at: event.at,
        kind: event.kind,
        counted: event.counted,
        reason: event.reason,
        subject: message.subject,
        link: link.url,
        file: sentFile.name,
        page: event.page,
        readMs: event.readMs,
        givenAddress: reading.givenAddress,
        ip: event.ip,
        userAgent: agent.userAgent,
        place: event.place,
      })
      .from(copy)
      .innerJoin(event, sql`${event.messageId} = ${copy.messageId} and ${event.copyId} = ${copy.id}`)
      .innerJoin(message, eq(message.id, copy.messageId))
      .leftJoin(link, eq(link.id, event.linkId))
      .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
      .leftJoin(reading, eq(reading.eventId, event.id))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(eq(copy.personId, personId))
      .orderBy(asc(event.at))
      .all();
  }

  incoming(personId: number): PersonData['incoming'] {
    const { at, kind, fromAddress, subject, words, html } = incoming;
    return this.database
      .select({ at, kind, from: fromAddress, subject, words, html })
      .from(copy)
      .innerJoin(incoming, and(eq(incoming.messageId, copy.messageId), eq(incoming.copyId, copy.id)))
      .where(eq(copy.personId, personId))
      .orderBy(asc(incoming.at))
      .all();
  }

  /** Messages that a person got, or is named in as a recipient, with whether anybody else is. */
  concerned(personId: number, address: string): { id: number; recipients: Recipient[] }[] {
    const named = sql`exists (select 1 from json_each(${message.recipients}) where lower(json_extract(value, '$.address')) = ${address.toLowerCase()})`;
    return this.database
      .select({ id: message.id, recipients: message.recipients })
      .from(message)
      .where(
        sql`${message.id} in (select ${copy.messageId} from ${copy} where ${copy.personId} = ${personId}) or ${named}`,
      )
      .all();
  }

  eraseMessages(ids: number[]): void {
    for (const id of ids) this.search.remove(id);
    if (ids.length > 0) this.database.delete(message).where(inArray(message.id, ids)).run();
  }

  /** Takes one recipient out of a message that others got, too: their events, their name, their address. */
  eraseFrom(messageId: number, personId: number, recipients: Recipient[], address: string): void {
    const key = addressKey(address);
    const others = recipients.map((one) => (addressKey(one.address) === key ? { ...one, ...NOBODY } : one));
    this.database.update(message).set({ recipients: others }).where(eq(message.id, messageId)).run();
    // What is searched names them; it is written anew.
    this.search.remove(messageId);
    // As it was submitted, it names them; copies to others that wait still go.
    this.outbox.keepWhole(messageId);
    this.database.delete(submission).where(eq(submission.messageId, messageId)).run();
    const copies = this.database
      .select({ id: copy.id })
      .from(copy)
      .where(sql`${copy.messageId} = ${messageId} and ${copy.personId} = ${personId}`)
      .all();
    for (const { id } of copies) {
      this.database
        .delete(event)
        .where(sql`${event.messageId} = ${messageId} and ${event.copyId} = ${id}`)
        .run();
      this.database.delete(reading).where(eq(reading.copyId, id)).run();
      this.database
        .delete(incoming)
        .where(sql`${incoming.messageId} = ${messageId} and ${incoming.copyId} = ${id}`)
        .run();
      this.database.update(copy).set(NOBODY).where(eq(copy.id, id)).run();
      this.delivery.apply(id, WITHDRAWN);
    }
  }

  /** What came from an address and belongs to no copy: replies that may be anybody's, and mail that was not taken. */
  eraseMailOf(address: string): void {
    const isTheirs = (column: AnySQLiteColumn) => sql`instr(lower(${column}), lower(${address})) > 0`;
    this.database
      .delete(incoming)
      .where(and(isNull(incoming.copyId), isTheirs(incoming.fromAddress)))
      .run();
    this.database
      .delete(refusedMail)
      .where(or(isTheirs(refusedMail.fromAddress), isTheirs(refusedMail.toAddress)))
      .run();
    this.database.delete(mailboxFailure).where(isTheirs(mailboxFailure.fromAddress)).run();
  }

  /** Other addresses of the same person. */
  merged(id: number): { id: number; address: string }[] {
    return this.database
      .select({ id: person.id, address: person.address })
      .from(person)
      .where(eq(person.mergedInto, id))
      .all();
  }

  /** The person’s row stays where copies need it, and says nothing any more. */
  erasePerson(id: number): void {
    this.database.delete(reminder).where(eq(reminder.personId, id)).run();
    this.tags.set(id, []);
    const left = this.database.select({ id: copy.id }).from(copy).where(eq(copy.personId, id)).get();
    if (!left) return void this.database.delete(person).where(eq(person.id, id)).run();
    this.database
      .update(person)
      .set({
        ...NOBODY,
        addressKey: `erased ${id}`,
        company: '',
        phone: '',
        zone: '',
        note: '',
        doNotTrack: true,
        optedOutAt: null,
        mergedInto: null,
      })
      .where(eq(person.id, id))
      .run();
  }
}
