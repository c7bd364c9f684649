import { Inject, Injectable } from '@nestjs/common';
import { and, asc, desc, eq, gt, isNull, lt, ne, notExists, sql } from 'drizzle-orm';
import type { MailboxFailure } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { mailboxFailure, mailboxFolder, message, sentCopy } from '../store/schema.js';

/** Where reading the mailbox has come, what could not be read in, and what was put into its folder of sent mail. */
@Injectable()
export class MailboxRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

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
      id,
      folder: path,
      uid,
      fromAddress,
      subject,
      problem,
      attempts,
      lastAttemptAt,
      givenUp: attempts >= maxAttempts,
    }));
  }

  /** Lets a mail be tried again; false where there is none by this number. */
  renewAttempts(id: number): boolean {
    return (
      this.database.update(mailboxFailure).set({ attempts: 0 }).where(eq(mailboxFailure.id, id)).run().changes === 1
    );
  }

  /** Messages written here that left after a time and were not put into the folder of sent mail, the oldest first. */
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
          isNull(message.folder),
          gt(message.lastActivityAt, since),
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
