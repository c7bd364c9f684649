import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import type { FetchMessageObject, ImapFlow } from 'imapflow';
import type { MailboxState } from '@kiraku/core/contract';
import { addressIn, messageIdsIn, ORIGINAL_FROM_FIELDS, readFields, referencesOf } from '@kiraku/core/incoming';
import { DAY, MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { MailsService } from '../messages/mails.service.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
import { foldersOf, imapClient, imapProblem } from './imap.js';
import { IncomingRepository } from './incoming.repository.js';
import { IncomingService } from './incoming.service.js';
import { BEGINNING_BYTES, MAX_MAIL_BYTES } from './largeMail.js';
import { MailboxSettings, type ImapAccess } from './mailbox.settings.js';

/** Of a folder that is looked into for the first time, or was made anew, mail of these days is read. */
const FIRST_SCAN_MS = 30 * DAY;
/** How often folders are looked into that announce nothing themselves. */
const MAILBOX_POLL_MS = MINUTE;
/** How long to wait after each break; the last one repeats. */
const MAILBOX_RETRY_MS = [2 * SECOND, 10 * SECOND, 30 * SECOND, 2 * MINUTE, 5 * MINUTE];
/** A reply would not be seen in time where nothing was seen for as long. */
const MAILBOX_STALE_MS = 10 * MINUTE;
/** What is said of a mail that may concern us, before it is fetched whole. */
const FIELDS = [
  'message-id',
  'in-reply-to',
  'references',
  'return-path',
  'content-type',
  'subject',
  'from',
  'reply-to',
  ...ORIGINAL_FROM_FIELDS,
];
/** Of what a header says, so much is looked at before the mail is read: strangers write it. */
const MAX_HEADER_CHARS = 256 * 1024;
const MAX_FIELD_CHARS = 1000;
const MAX_UIDS_OF_COMMAND = 500;
/** What left longer ago is not put into the folder of sent mail any more. */
const STORED_WITHIN_MS = 7 * DAY;
const STORED_SINCE = 'mailbox.storedSince';
const MESSAGES_PER_FETCH = 200;
/** How often a mail is tried that could not be read in. */
const MAX_READ_ATTEMPTS = 3;
const MAX_FAILURES_SHOWN = 50;
const MAX_PROBLEM_CHARS = 300;
const ENDED_PROCESS = 'Reading it stopped Kiraku each time';

/** A folder as it is until its server says that it is another (RFC 9051, section 2.3.1.1). */
interface Place {
  path: string;
  uidValidity: string;
}

/** A mail of a folder that may concern us. */
interface FoundMail {
  uid: number;
  receivedAt: number;
  fromAddress?: string;
  subject?: string;
}

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
    private readonly store: SettingsRepository,
    private readonly inbox: IncomingService,
    private readonly repository: IncomingRepository,
    private readonly mails: MailsService,
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
    if (this.settings.view().storesSent)
      this.store.set(STORED_SINCE, this.store.get<number>(STORED_SINCE) ?? this.clock.now());
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
      for (const path of ['INBOX', ...this.settings.view().folders]) await this.check(client, path);
      await this.storeSent(client);
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

  /**
   * Reads what is new in a folder. Each mail is tried by itself, and noted before it is: one that cannot be read in, or ends
   * the process, stands in nobody's way, and is let be after some tries. Where the folder has come is written down after
   * what it brought.
   */
  private async check(client: ImapFlow, path: string): Promise<void> {
    const folder = await client.mailboxOpen(path, { readOnly: true });
    const place = { path, uidValidity: String(folder.uidValidity) };
    const known = this.repository.folder(path);
    const from = known?.uidValidity === place.uidValidity ? known.lastUid + 1 : 1;
    const newest = folder.uidNext - 1;
    const again = this.repository.attemptsLeft(path, place.uidValidity, MAX_READ_ATTEMPTS);
    for (const { uid, receivedAt } of again.filter((one) => one.uid < from))
      await this.take(client, place, { uid, receivedAt });
    if (newest < from) {
      if (known?.uidValidity !== place.uidValidity) this.repository.setFolder({ ...place, lastUid: newest });
      return;
    }
    for (const range of from === 1 ? await this.firstScan(client) : [`${from}:*`])
      for (const mail of await this.concerning(client, range, from)) await this.take(client, place, mail);
    this.repository.setFolder({ ...place, lastUid: newest });
  }

  /** The mails of the last weeks, in parts: a command can be too long for a server. */
  private async firstScan(client: ImapFlow): Promise<string[]> {
    const found = await client.search({ since: new Date(this.clock.now() - FIRST_SCAN_MS) }, { uid: true });
    const uids = found || [];
    const parts = Math.ceil(uids.length / MAX_UIDS_OF_COMMAND);
    return Array.from({ length: parts }, (_, part) =>
      uids.slice(part * MAX_UIDS_OF_COMMAND, (part + 1) * MAX_UIDS_OF_COMMAND).join(','),
    );
  }

  /** Of mails in a range those that may concern us, by their headers alone. */
  private async concerning(client: ImapFlow, range: string, from: number): Promise<FoundMail[]> {
    const found: FoundMail[] = [];
    const query = { uid: true, headers: FIELDS, internalDate: true, size: true } as const;
    for await (const one of client.fetch(range, query, { uid: true })) {
      // "n:*" names the last mail even where n is beyond it.
      if (one.uid < from) continue;
      const header = headerOf(one);
      if (!this.inbox.mayConcern(header)) continue;
      const receivedAt = new Date(one.internalDate ?? 0).getTime();
      found.push({ uid: one.uid, receivedAt, fromAddress: header.from.address, subject: header.subject });
    }
    return found;
  }

  /** Reads one mail in. What breaks the connection is thrown; what is wrong with the mail is noted. */
  private async take(
    client: ImapFlow,
    { path, uidValidity }: Place,
    { uid, receivedAt, ...said }: FoundMail,
  ): Promise<void> {
    const now = this.clock.now();
    const before = this.repository.beginAttempt({ path, uidValidity, uid, receivedAt, lastAttemptAt: now, ...said });
    // Those that were tried last ended the process.
    if (before >= MAX_READ_ATTEMPTS) return this.repository.failAttempt(path, uidValidity, uid, ENDED_PROCESS);
    const sized = await client.fetchOne(String(uid), { size: true }, { uid: true });
    const isCut = sized !== false && (sized.size ?? 0) > MAX_MAIL_BYTES;
    const source = isCut ? { start: 0, maxLength: BEGINNING_BYTES } : true;
    const mail = await client.fetchOne(String(uid), { source, uid: true }, { uid: true });
    try {
      if (mail && mail.source) await this.inbox.take(mail.source, { at: receivedAt || now, returnPath: null, isCut });
      this.repository.endAttempt(path, uidValidity, uid);
    } catch (error) {
      this.logger.error(
        `Mail ${uid} of ${path} could not be read in (attempt ${before + 1})`,
        error instanceof Error ? error.stack : String(error),
      );
      const words = error instanceof Error ? error.message : String(error);
      this.repository.failAttempt(path, uidValidity, uid, words.slice(0, MAX_PROBLEM_CHARS));
      this.changes.announce();
    }
  }

  /** Lets a mail that was given up be tried again. */
  retry(id: number): boolean {
    const found = this.repository.renewAttempts(id);
    this.wake();
    return found;
  }

  /** Puts the clean copy of what left into the folder of sent mail, unless the server did so itself. */
  private async storeSent(client: ImapFlow): Promise<void> {
    const { storesSent } = this.settings.view();
    const storedSince = this.store.get<number>(STORED_SINCE);
    if (!storesSent || storedSince === undefined) return;
    const ids = this.repository.unstored(
      Math.max(storedSince, this.clock.now() - STORED_WITHIN_MS),
      MESSAGES_PER_FETCH,
    );
    if (ids.length === 0) return;
    const sent = (await foldersOf(client)).find(({ isSent }) => isSent);
    if (!sent) return;
    await client.mailboxOpen(sent.path, { readOnly: true });
    for (const id of ids) {
      const raw = await this.mails.sentMail(id);
      const [messageId] = messageIdsIn(
        /^message-id:[^\r\n]*(\r?\n[ \t][^\r\n]*)?/im.exec(raw.toString('latin1'))?.[0] ?? '',
      );
      const there = messageId ? await client.search({ header: { 'message-id': messageId } }, { uid: true }) : [];
      if (!there || there.length === 0) await client.append(sent.path, raw, ['\\Seen']);
      this.repository.setStored(id);
    }
  }

  private tell(problem: string | null): void {
    if (problem === this.problem) return;
    this.problem = problem;
    this.changes.announce();
  }
}

/** What a mail says of itself, before it is fetched whole. */
function headerOf({ headers }: FetchMessageObject) {
  const [fields] = readFields((headers ?? Buffer.alloc(0)).subarray(0, MAX_HEADER_CHARS).toString('utf8'));
  const [address = '', ...others] = ['from', 'reply-to', ...ORIGINAL_FROM_FIELDS].flatMap((name) =>
    addressIn(fields?.get(name)),
  );
  const returnPath = fields?.get('return-path');
  return {
    from: { name: '', address },
    writers: [address, ...others],
    subject: (fields?.get('subject') ?? '').slice(0, MAX_FIELD_CHARS),
    references: referencesOf((name) => fields?.get(name)),
    returnPath: returnPath === undefined ? null : returnPath.replace(/[<>\s]/g, ''),
    isReport:
      /multipart\/report/i.test(fields?.get('content-type') ?? '') || /^(mailer-daemon|postmaster)@/i.test(address),
  };
}
