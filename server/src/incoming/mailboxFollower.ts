import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import type { ImapFlow } from 'imapflow';
import type { MailboxState } from '@kiraku/core/contract';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { Changes } from '../store/changes.js';
import { imapClient, imapProblem } from './imap.js';
import { MailboxRepository } from './mailbox.repository.js';
import { MailboxSettings, type ImapAccess } from './mailbox.settings.js';
import { MailboxReading, MAX_READ_ATTEMPTS } from './mailboxReading.js';
import { SentFolder } from './sentFolder.js';

/** How often folders are looked into that announce nothing themselves. */
const MAILBOX_POLL_MS = MINUTE;
/** How long to wait after each break; the last one repeats. */
const MAILBOX_RETRY_MS = [2 * SECOND, 10 * SECOND, 30 * SECOND, 2 * MINUTE, 5 * MINUTE];
/** A reply would not be seen in time where nothing was seen for as long. */
const MAILBOX_STALE_MS = 10 * MINUTE;
const MAX_FAILURES_SHOWN = 50;

/**
 * Reads the user’s mailbox for replies and receipts (IMAP, RFC 9051): at once where the server offers IDLE
 * (RFC 2177), by UID from where it was left, from the beginning where UIDVALIDITY says that the folder is another. It
 * marks, moves and deletes nothing.
 */
@Injectable()
export class MailboxFollower implements BeforeApplicationShutdown {
  private readonly logger = new Logger(MailboxFollower.name);
  private client: ImapFlow | undefined;
  private running: Promise<void> = Promise.resolve();
  private isStopped = true;
  private wakeUp: () => void = () => undefined;
  private problem: string | null = null;
  private seenAt: number | null = null;

  constructor(
    private readonly settings: MailboxSettings,
    private readonly reading: MailboxReading,
    private readonly sentFolder: SentFolder,
    private readonly repository: MailboxRepository,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Begins to look, if a mailbox is set. Call it at start. */
  open(): void {
    this.problem = null;
    this.seenAt = null;
    if (this.settings.view().way !== 'imap') return;
    this.isStopped = false;
    this.running = this.follow();
  }

  /** Begins anew with other settings; another mailbox is looked into from its beginning. */
  async reopen(isOther: boolean): Promise<void> {
    await this.close();
    if (isOther) this.repository.forgetFolders();
    this.sentFolder.begin();
    this.open();
  }

  async beforeApplicationShutdown(): Promise<void> {
    await this.close();
  }

  state(): MailboxState {
    const failures = this.repository.failures(MAX_READ_ATTEMPTS, MAX_FAILURES_SHOWN);
    return { seenAt: this.seenAt, problem: this.problem, failures };
  }

  /** Why a reply would not be seen now, in words; null where it would. */
  replyProblem(): string | null {
    const { way } = this.settings.view();
    if (way === 'none') return 'No mailbox is connected: a reply would not be seen';
    if (way === 'lmtp') return null;
    if (this.problem !== null) return this.problem;
    const isFresh = this.seenAt !== null && this.clock.now() - this.seenAt < MAILBOX_STALE_MS;
    return isFresh ? null : 'The mailbox has not been checked yet';
  }

  /** Looks now, instead of in a while. */
  wake(): void {
    this.wakeUp();
  }

  private async close(): Promise<void> {
    this.isStopped = true;
    this.client?.close();
    this.wakeUp();
    await this.running;
  }

  private async follow(): Promise<void> {
    for (let breaks = 0; !this.isStopped;) {
      const access = this.settings.access();
      try {
        await this.session(access, () => (breaks = 0));
      } catch (error) {
        if (this.isStopped) return;
        this.tell(imapProblem(access, error));
        this.logger.warn(`Mailbox: ${this.problem}`);
      }
      this.client?.close();
      if (this.isStopped) return;
      await this.pause(MAILBOX_RETRY_MS[Math.min(breaks, MAILBOX_RETRY_MS.length - 1)]!);
      breaks += 1;
    }
  }

  /** One connection, until it breaks or is closed. */
  private async session(access: ImapAccess, works: () => void): Promise<void> {
    const client = imapClient(access);
    this.client = client;
    await client.connect();
    let broken = false;
    client.on('close', () => {
      broken = true;
      this.wakeUp();
    });
    client.on('exists', () => this.wakeUp());
    while (!this.isStopped && !broken) {
      const next = this.pause(MAILBOX_POLL_MS);
      for (const path of ['INBOX', ...this.settings.view().folders]) await this.reading.check(client, path);
      await this.sentFolder.fill(client);
      works();
      this.seenAt = this.clock.now();
      this.tell(null);
      await client.mailboxOpen('INBOX', { readOnly: true });
      // What came while the others were looked into.
      if (client.mailbox && client.mailbox.uidNext > (this.repository.folder('INBOX')?.lastUid ?? 0) + 1) continue;
      // Ends with the next command, or with the connection.
      void client.idle().catch(() => undefined);
      await next;
    }
    if (broken && !this.isStopped) throw Object.assign(new Error('The connection broke'), { code: 'ECONNRESET' });
  }

  /** Resolves after a time, or when there is a reason to go on. */
  private pause(ms: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, ms);
      timer.unref();
      this.wakeUp = () => {
        clearTimeout(timer);
        resolve();
      };
    });
  }

  /** Lets a mail that was given up be tried again. */
  retry(id: number): boolean {
    const found = this.repository.renewAttempts(id);
    this.wake();
    return found;
  }

  private tell(problem: string | null): void {
    if (problem === this.problem) return;
    this.problem = problem;
    this.changes.announce();
  }
}
