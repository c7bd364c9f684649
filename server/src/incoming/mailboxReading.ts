import { Injectable, Logger } from '@nestjs/common';
import type { ImapFlow } from 'imapflow';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { Changes } from '../store/changes.js';
import { IncomingService } from './incoming.service.js';
import { BEGINNING_BYTES, MAX_MAIL_BYTES } from './largeMail.js';
import { MailboxRepository } from './mailbox.repository.js';
import { HEADER_FIELDS, headerOf } from './mailHeader.js';
import { Matching } from './matching.js';

/** Of a folder that is looked into for the first time, or was made anew, mail of these days is read. */
const FIRST_SCAN_MS = 30 * DAY;
const MAX_UIDS_OF_COMMAND = 500;
/** How often a mail is tried that could not be read in. */
export const MAX_READ_ATTEMPTS = 3;
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

/** Reads what is new in the folders of a mailbox. It marks, moves and deletes nothing. */
@Injectable()
export class MailboxReading {
  private readonly logger = new Logger(MailboxReading.name);

  constructor(
    private readonly inbox: IncomingService,
    private readonly matching: Matching,
    private readonly repository: MailboxRepository,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /**
   * Reads what is new in a folder. Each mail is tried by itself, and noted before it is: one that cannot be read in, or ends
   * the process, stands in nobody's way, and is let be after some tries. Where the folder has come is written down after
   * what it brought.
   */
  async check(client: ImapFlow, path: string): Promise<void> {
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
    const query = { uid: true, headers: HEADER_FIELDS, internalDate: true, size: true } as const;
    for await (const one of client.fetch(range, query, { uid: true })) {
      // "n:*" names the last mail even where n is beyond it.
      if (one.uid < from) continue;
      const header = headerOf(one.headers ?? Buffer.alloc(0));
      if (!this.matching.mayConcern(header)) continue;
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
}
