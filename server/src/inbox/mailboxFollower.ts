import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import type { FetchMessageObject, ImapFlow } from 'imapflow';
import type { MailboxState } from '@kiraku/core/contract';
import { messageIdsIn, readFields } from '@kiraku/core/inbox';
import { DAY, MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { MailsService } from '../messages/mails.service.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
import { foldersOf, imapClient, imapTrouble } from './imap.js';
import { InboxRepository } from './inbox.repository.js';
import { InboxService } from './inbox.service.js';
import { MailboxSettings, type ImapAccess } from './mailbox.settings.js';

/** Of a folder that is looked into for the first time, or was made anew, mail of these days is read. */
const FIRST_LOOK_MS = 30 * DAY;
/** How often folders are looked into that tell of nothing by themselves. */
const LOOK_MS = MINUTE;
/** How long to wait after each break; the last one repeats. */
const RETRY_MS = [2 * SECOND, 10 * SECOND, 30 * SECOND, 2 * MINUTE, 5 * MINUTE];
/** An answer would not be seen in time where nothing was seen for as long. */
const BLIND_MS = 10 * MINUTE;
/** What is said of a mail that may concern us, before it is fetched whole. */
const FIELDS = ['message-id', 'in-reply-to', 'references', 'return-path', 'content-type', 'from'];
const MOST_BYTES = 50 * 1024 * 1024;
/** What left longer ago is not put into the folder of sent mail any more. */
const STORED_WITHIN_MS = 7 * DAY;
const STORED_SINCE = 'mailbox.storedSince';
const AT_ONCE = 200;
const MOST_FAILURES = 3;

/**
 * Looks into the user’s mailbox for what came back (IMAP, RFC 9051): told at once where the server offers IDLE
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
  private trouble: string | null = null;
  private seenAt: number | null = null;
  /** How often in a row the same mail could not be taken in. */
  private failures = { uid: 0, times: 0 };

  constructor(
    private readonly settings: MailboxSettings,
    private readonly store: SettingsRepository,
    private readonly inbox: InboxService,
    private readonly repository: InboxRepository,
    private readonly mails: MailsService,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Begins to look, if a mailbox is set. Call it at start. */
  open(): void {
    this.trouble = null;
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
    return { seenAt: this.seenAt, trouble: this.trouble };
  }

  /** Why an answer would not be seen now, in words; null where it would. */
  blind(): string | null {
    const { way } = this.settings.view();
    if (way === 'none') return 'No mailbox is connected: an answer would not be seen';
    if (way === 'lmtp') return null;
    if (this.trouble !== null) return this.trouble;
    const isFresh = this.seenAt !== null && this.clock.now() - this.seenAt < BLIND_MS;
    return isFresh ? null : 'The mailbox has not been looked into yet';
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
        this.tell(imapTrouble(access, error));
        this.logger.warn(`Mailbox: ${this.trouble}`);
      }
      this.client?.close();
      if (this.isStopped) return;
      await this.pause(RETRY_MS[Math.min(breaks, RETRY_MS.length - 1)]!);
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
      const next = this.pause(LOOK_MS);
      for (const path of ['INBOX', ...this.settings.view().folders]) await this.look(client, path);
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

  /** Reads what is new in a folder. Where it has come is written down after what it brought. */
  private async look(client: ImapFlow, path: string): Promise<void> {
    const folder = await client.mailboxOpen(path, { readOnly: true });
    const uidValidity = String(folder.uidValidity);
    const known = this.repository.folder(path);
    const from = known?.uidValidity === uidValidity ? known.lastUid + 1 : 1;
    const newest = folder.uidNext - 1;
    if (newest < from) {
      if (known?.uidValidity !== uidValidity) this.repository.setFolder({ path, uidValidity, lastUid: newest });
      return;
    }
    const range = from === 1 ? await this.firstLook(client) : `${from}:*`;
    const uids = range === null ? [] : await this.concerning(client, range, from);
    for (const { uid, internalDate } of uids) await this.take(client, uid, internalDate);
    this.repository.setFolder({ path, uidValidity, lastUid: newest });
  }

  private async firstLook(client: ImapFlow): Promise<string | null> {
    const found = await client.search({ since: new Date(this.clock.now() - FIRST_LOOK_MS) }, { uid: true });
    return found && found.length > 0 ? found.join(',') : null;
  }

  /** Of mails in a range those that may concern us, by their headers alone. */
  private async concerning(client: ImapFlow, range: string, from: number) {
    const found: { uid: number; internalDate: number }[] = [];
    const query = { uid: true, headers: FIELDS, internalDate: true, size: true } as const;
    for await (const one of client.fetch(range, query, { uid: true })) {
      // “n:*” names the last mail even where n is beyond it.
      if (one.uid < from || (one.size ?? 0) > MOST_BYTES || !this.mayConcern(one)) continue;
      found.push({ uid: one.uid, internalDate: new Date(one.internalDate ?? 0).getTime() });
    }
    return found;
  }

  private mayConcern({ headers }: FetchMessageObject): boolean {
    const [fields] = readFields(headers?.toString('utf8') ?? '');
    const from = fields?.get('from') ?? '';
    const address = /<([^<>\s]+@[^<>\s]+)>/.exec(from)?.[1] ?? /[^\s<>"]+@[^\s<>"]+/.exec(from)?.[0] ?? '';
    const returnPath = fields?.get('return-path');
    return this.inbox.mayConcern({
      from: { name: '', address },
      references: messageIdsIn(`${fields?.get('in-reply-to') ?? ''} ${fields?.get('references') ?? ''}`),
      returnPath: returnPath === undefined ? null : returnPath.replace(/[<>\s]/g, ''),
      isReport:
        /multipart\/report/i.test(fields?.get('content-type') ?? '') || /^(mailer-daemon|postmaster)@/i.test(address),
    });
  }

  private async take(client: ImapFlow, uid: number, internalDate: number): Promise<void> {
    const mail = await client.fetchOne(String(uid), { source: true, uid: true }, { uid: true });
    if (!mail || !mail.source) return;
    try {
      await this.inbox.take(mail.source, { at: internalDate || this.clock.now(), returnPath: null });
    } catch (error) {
      this.failures = this.failures.uid === uid ? { uid, times: this.failures.times + 1 } : { uid, times: 1 };
      if (this.failures.times < MOST_FAILURES) throw error;
      // One mail that cannot be taken in does not stand in the way of all that come after it.
      this.logger.error(
        `Mail ${uid} of the mailbox is passed over`,
        error instanceof Error ? error.stack : String(error),
      );
    }
  }

  /** Puts the clean copy of what left into the folder of sent mail, unless the server did so itself. */
  private async storeSent(client: ImapFlow): Promise<void> {
    const { storesSent } = this.settings.view();
    const wishedAt = this.store.get<number>(STORED_SINCE);
    if (!storesSent || wishedAt === undefined) return;
    const ids = this.repository.unstored(Math.max(wishedAt, this.clock.now() - STORED_WITHIN_MS), AT_ONCE);
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

  private tell(trouble: string | null): void {
    if (trouble === this.trouble) return;
    this.trouble = trouble;
    this.changes.announce();
  }
}
