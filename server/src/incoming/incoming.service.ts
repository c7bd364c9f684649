import { createHash } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import {
  reportDoubt,
  type Classified,
  type DeliveryReport,
  type DeliveryStatus,
  type DispositionReport,
} from '@kiraku/core/incoming';
import { Clock } from '../environment/clock.js';
import { MailReader, type ForeignBody } from '../messages/mailReader.js';
import type { OpenedMail } from '../mime/readMail.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Consequences } from './consequences.js';
import { IncomingRepository } from './incoming.repository.js';
import { Matching } from './matching.js';
import { ReplyBodies } from './replyBodies.js';

/** A mail of which nothing could be read within the limits that it is given. */
export class UnreadableMail extends Error {}

/** How a mail came here. */
export interface Arrival {
  /** When the server got it. */
  at: number;
  /** MAIL FROM; null where it is not known. */
  returnPath: string | null;
  /** Whether this is its beginning alone. */
  isCut?: boolean;
}

/** A mail of which not all can be shown is kept as it came, up to this size. */
const MAX_ORIGINAL_BYTES = 10_000_000;
const NO_BODY: ForeignBody = { html: '', problem: null };
const ONLY_BEGINNING = 'It is larger than 50 MB: only its beginning was read.';
/** A message that a mail is about, and what it says of it. */
interface Found {
  messageId: number;
  /** Null where it may be any recipient’s. */
  copyId: number | null;
  words: string;
  doubt: string | null;
  /** What changes by it, besides that it is kept. */
  apply(incomingId: number): unknown;
}

/**
 * Takes in what came back: finds the copy that it is about, and writes it down with all that follows from it in one
 * transaction. Mail that is about nothing that was sent here is not kept.
 */
@Injectable()
export class IncomingService {
  constructor(
    private readonly inbox: IncomingRepository,
    private readonly reader: MailReader,
    private readonly bodies: ReplyBodies,
    private readonly matching: Matching,
    private readonly consequences: Consequences,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /**
   * Resolves when it is durable, to whether it is about something that was sent here. The same mail twice is one.
   *
   * @throws UnreadableMail where not even its header could be read
   */
  async take(raw: Buffer, { at, returnPath, isCut = false }: Arrival): Promise<boolean> {
    const read = await this.reader.read(raw, returnPath).catch((error: Error) => {
      throw new UnreadableMail(`It could not be read: ${error.message}`);
    });
    if (!read || this.matching.isOwn(read.mail)) return false;
    const { mail, classified } = read;
    const identity = mail.messageIdHeader ?? createHash('sha256').update(raw).digest('hex');
    const when = Math.min(at, this.clock.now());
    // Most mail is about nothing that was sent here: its message need not be read.
    if (!this.inbox.isKnown(identity) && this.find(classified, mail, when).length === 0) return false;
    // Reports are written by programs: their sentence says it all.
    const isWritten = classified.kind !== 'dsn' && classified.kind !== 'mdn';
    const body = isWritten ? await this.bodies.shown(mail) : NO_BODY;
    const problem = (isCut ? ONLY_BEGINNING : null) ?? read.problem ?? body.problem;
    return this.unit.commit(() => {
      if (this.inbox.isKnown(identity)) return true;
      const found = this.find(classified, mail, when);
      const [first] = found;
      if (!first) return false;
      const incomingId = this.inbox.add({
        identity,
        kind: classified.kind,
        at: when,
        messageId: first.messageId,
        copyId: first.copyId,
        messageIdHeader: mail.messageIdHeader,
        fromName: mail.from.name,
        fromAddress: mail.from.address,
        subject: mail.subject,
        words: first.words,
        doubt: first.doubt,
        html: body.html,
        problem,
      });
      if (problem !== null && raw.length <= MAX_ORIGINAL_BYTES) this.inbox.keepOriginal(incomingId, raw);
      for (const { messageId, apply } of found) {
        apply(incomingId);
        this.unit.note({ messageId });
      }
      return true;
    });
  }

  private find(classified: Classified, mail: OpenedMail, at: number): Found[] {
    if (classified.kind === 'dsn') return this.deliveries(classified, mail, at);
    if (classified.kind === 'mdn') return this.receipt(classified, mail, at);
    const whose = this.matching.whose(classified, mail, at);
    if (!whose) return [];
    const doubt = [whose.doubt, classified.doubt].filter((one) => one !== null).join('. ') || null;
    const found = { ...whose, words: classified.words, doubt };
    return [{ ...found, apply: (id) => this.consequences.replied(found, classified.kind, id, at) }];
  }

  private deliveries(status: DeliveryStatus, mail: OpenedMail, at: number): Found[] {
    const doubt = reportDoubt(mail);
    return [...this.matching.copiesOfReport(status, mail)].map(([copy, reports]) => ({
      ...copy,
      words: reportText(reports),
      doubt,
      // Whoever got the mail knows what a report must name: one that no server can have written changes nothing.
      apply: (id) => doubt === null && this.consequences.delivered(copy, reports, id, at),
    }));
  }

  private receipt(report: DispositionReport, mail: OpenedMail, at: number): Found[] {
    const copy = this.matching.copyOfReceipt(report, mail);
    if (!copy) return [];
    const { words, disposition } = report;
    return [{ ...copy, words, doubt: null, apply: (id) => this.consequences.read(copy, disposition, id, at) }];
  }
}

/** What a report says of one copy; of several behind its address each by name. */
function reportText(reports: readonly DeliveryReport[]): string {
  if (reports.length === 1) return reports[0]!.words;
  return reports.map(({ addresses, words }) => `${addresses.at(-1)}: ${words}`).join(' ');
}
