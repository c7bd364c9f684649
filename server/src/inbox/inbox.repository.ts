import { Inject, Injectable } from '@nestjs/common';
import { and, asc, desc, eq, getTableColumns, gt, inArray, isNull, lt, ne, notExists, sql } from 'drizzle-orm';
import type { Disposition, IncomingVerdict, IncomingView, MailboxFailure, ReceiptState } from '@kiraku/core/contract';
import type { Candidate } from '@kiraku/core/inbox';
import { addressKey } from '@kiraku/core/message';
import { DATABASE, type Database } from '../store/database.js';
import {
  copy,
  incoming,
  incomingOriginal,
  mailboxFailure,
  mailboxFolder,
  message,
  person,
  sentCopy,
} from '../store/schema.js';

/** A copy to somebody, as an answer that names none of its Message-IDs may belong to it. */
export interface Recent extends Candidate {
  subject: string;
  sentAt: number;
}

/** A mail can name tens of thousands of others. */
const MAX_REFERENCES = 200;

const CANDIDATE = {
  ...{ copyId: copy.id, messageId: copy.messageId, address: copy.address },
  messageIdHeader: copy.messageIdHeader,
};

@Injectable()
export class InboxRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  transaction<T>(work: () => T): T {
    return this.database.$client.transaction(work).immediate();
  }

  isKnown(identity: string): boolean {
    return (
      this.database.select({ id: incoming.id }).from(incoming).where(eq(incoming.identity, identity)).get() !==
      undefined
    );
  }

  /** The copies that have one of some Message-IDs, the surest first: of very many, no more than the first are looked up. */
  copiesOf(messageIdHeaders: readonly string[]): Candidate[] {
    if (messageIdHeaders.length === 0) return [];
    return this.database
      .select(CANDIDATE)
      .from(copy)
      .where(inArray(copy.messageIdHeader, messageIdHeaders.slice(0, MAX_REFERENCES)))
      .all();
  }

  /** The newest copies to an address, of those that left after a time. */
  recentTo(address: string, since: number, limit: number): Recent[] {
    const rows = this.database
      .select({ ...CANDIDATE, subject: message.subject, sentAt: copy.sentAt })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .innerJoin(message, eq(message.id, copy.messageId))
      .where(and(eq(person.addressKey, addressKey(address)), gt(copy.sentAt, since)))
      .orderBy(desc(copy.sentAt))
      .limit(limit)
      .all();
    return rows.map((row) => ({ ...row, sentAt: row.sentAt! }));
  }

  /** Whether anything was ever sent to an address. */
  isKnownPerson(address: string): boolean {
    return (
      this.database
        .select({ id: person.id })
        .from(person)
        .where(eq(person.addressKey, addressKey(address)))
        .get() !== undefined
    );
  }

  add(row: typeof incoming.$inferInsert): number {
    return this.database.insert(incoming).values(row).returning({ id: incoming.id }).get().id;
  }

  /** What came back for some letters, the oldest first. */
  of(messageIds: number[]): IncomingView[] {
    const rows = this.database
      .select({
        ...getTableColumns(incoming),
        ...{ knownName: copy.name, knownAddress: copy.address, originalOf: incomingOriginal.incomingId },
      })
      .from(incoming)
      .innerJoin(copy, eq(copy.id, incoming.copyId))
      .leftJoin(incomingOriginal, eq(incomingOriginal.incomingId, incoming.id))
      .where(inArray(incoming.messageId, messageIds))
      .orderBy(asc(incoming.at))
      .all();
    return rows.map(({ id, kind, at, messageId, copyId, subject, words, doubt, verdict, problem, ...row }) => ({
      ...{ id, kind, at, messageId, copyId, subject, words, doubt, verdict, problem },
      hasOriginal: row.originalOf !== null,
      from: { name: row.fromName || nameOf(row), address: row.fromAddress },
    }));
  }

  row(id: number): typeof incoming.$inferSelect | undefined {
    return this.database.select().from(incoming).where(eq(incoming.id, id)).get();
  }

  setVerdict(id: number, verdict: IncomingVerdict): void {
    this.database.update(incoming).set({ verdict }).where(eq(incoming.id, id)).run();
  }

  keepOriginal(incomingId: number, raw: Buffer): void {
    this.database.insert(incomingOriginal).values({ incomingId, raw }).run();
  }

  /** A mail as it came; undefined where it is not kept. */
  original(incomingId: number): Buffer | undefined {
    return this.database.select().from(incomingOriginal).where(eq(incomingOriginal.incomingId, incomingId)).get()?.raw;
  }

  setDelivery(copyId: number, deliveryReceipt: ReceiptState): void {
    this.database.update(copy).set({ deliveryReceipt }).where(eq(copy.id, copyId)).run();
  }

  setReadReceipt(copyId: number, readReceipt: Disposition): void {
    this.database.update(copy).set({ readReceipt }).where(eq(copy.id, copyId)).run();
  }

  /** A copy that had been accepted, and was sent back since. False where it was known to have failed. */
  fail(copyId: number, trouble: string): boolean {
    const { changes } = this.database
      .update(copy)
      .set({ state: 'failed', trouble, deliveryReceipt: 'failed' })
      .where(and(eq(copy.id, copyId), eq(copy.state, 'sent')))
      .run();
    return changes === 1;
  }

  deliveryOf(copyId: number): ReceiptState | null {
    return this.database.select({ state: copy.deliveryReceipt }).from(copy).where(eq(copy.id, copyId)).get()!.state;
  }

  folder(path: string): typeof mailboxFolder.$inferSelect | undefined {
    return this.database.select().from(mailboxFolder).where(eq(mailboxFolder.path, path)).get();
  }

  setFolder(row: typeof mailboxFolder.$inferInsert): void {
    const { path: _path, ...set } = row;
    this.database.insert(mailboxFolder).values(row).onConflictDoUpdate({ target: mailboxFolder.path, set }).run();
  }

  forgetFolders(): void {
    this.database.delete(mailboxFailure).run();
    this.database.delete(mailboxFolder).run();
  }

  /**
   * Notes that a mail is about to be read in, with what its header says. Returns how often that was tried before, over
   * restarts.
   */
  beginAttempt(row: Omit<typeof mailboxFailure.$inferInsert, 'attempts' | 'problem'>): number {
    const { lastAttemptAt } = row;
    const { attempts } = this.database
      .insert(mailboxFailure)
      .values({ ...row, attempts: 1 })
      .onConflictDoUpdate({
        target: [mailboxFailure.path, mailboxFailure.uidValidity, mailboxFailure.uid],
        set: { attempts: sql`${mailboxFailure.attempts} + 1`, lastAttemptAt },
      })
      .returning({ attempts: mailboxFailure.attempts })
      .get();
    return attempts - 1;
  }

  /** The mail was read in, or is gone. */
  endAttempt(path: string, uidValidity: string, uid: number): void {
    this.database
      .delete(mailboxFailure)
      .where(isMail(path, uidValidity, uid))
      .run();
  }

  failAttempt(path: string, uidValidity: string, uid: number, problem: string): void {
    this.database
      .update(mailboxFailure)
      .set({ problem })
      .where(isMail(path, uidValidity, uid))
      .run();
  }

  /** Mails of a folder that are to be tried again. */
  attemptsLeft(path: string, uidValidity: string, maxAttempts: number): { uid: number; receivedAt: number }[] {
    return this.database
      .select({ uid: mailboxFailure.uid, receivedAt: mailboxFailure.receivedAt })
      .from(mailboxFailure)
      .where(
        and(
          eq(mailboxFailure.path, path),
          eq(mailboxFailure.uidValidity, uidValidity),
          lt(mailboxFailure.attempts, maxAttempts),
        ),
      )
      .all();
  }

  /** Mails that could not be read in, the newest first. */
  failures(maxAttempts: number, limit: number): MailboxFailure[] {
    const rows = this.database
      .select()
      .from(mailboxFailure)
      .where(ne(mailboxFailure.problem, ''))
      .orderBy(desc(mailboxFailure.id))
      .limit(limit)
      .all();
    return rows.map(({ id, path, uid, fromAddress, subject, problem, attempts, lastAttemptAt }) => ({
      ...{ id, folder: path, uid, fromAddress, subject, problem, attempts, lastAttemptAt },
      givenUp: attempts >= maxAttempts,
    }));
  }

  /** Lets a mail be tried again; false where there is none by this number. */
  renewAttempts(id: number): boolean {
    return (
      this.database.update(mailboxFailure).set({ attempts: 0 }).where(eq(mailboxFailure.id, id)).run().changes === 1
    );
  }

  /** Letters written here that left after a time and were not put into the folder of sent mail, the oldest first. */
  unstored(since: number, limit: number): number[] {
    const stored = this.database
      .select({ one: sql`1` })
      .from(sentCopy)
      .where(eq(sentCopy.messageId, message.id));
    return this.database
      .select({ id: message.id })
      .from(message)
      .where(
        and(
          isNull(message.shelf),
          gt(message.latestAt, since),
          eq(message.state, 'sent'),
          eq(message.origin, 'written'),
          gt(message.sentAt, since),
          notExists(stored),
        ),
      )
      .orderBy(asc(message.sentAt))
      .limit(limit)
      .all()
      .map(({ id }) => id);
  }

  setStored(messageId: number): void {
    this.database.insert(sentCopy).values({ messageId }).onConflictDoNothing().run();
  }
}

function isMail(path: string, uidValidity: string, uid: number) {
  return and(eq(mailboxFailure.path, path), eq(mailboxFailure.uidValidity, uidValidity), eq(mailboxFailure.uid, uid));
}

/** As they are known here, where their program does not say. */
function nameOf({
  fromAddress,
  knownName,
  knownAddress,
}: Record<'fromAddress' | 'knownName' | 'knownAddress', string>) {
  return addressKey(fromAddress) === addressKey(knownAddress) ? knownName : '';
}
