import { createHash } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { DeliveryAction, IncomingVerdict } from '@kiraku/core/contract';
import {
  copyOfAnswer,
  copyOfReport,
  reportDoubt,
  subjectRoot,
  type Candidate,
  type Classified,
  type DeliveryReport,
} from '@kiraku/core/inbox';
import { addressKey, MESSAGE_LIMITS } from '@kiraku/core/message';
import { DAY } from '@kiraku/core/time';
import { MACHINE_ANSWER } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { notFound } from '../http/problem.js';
import { SentService } from '../messages/sent.service.js';
import { OutboxRepository } from '../outbox/outbox.repository.js';
import { AccountService } from '../settings/account.service.js';
import { Changes } from '../store/changes.js';
import { Recorder } from '../tracking/recorder.js';
import { AnswerLetters } from './answerLetters.js';
import { InboxRepository } from './inbox.repository.js';
import { MailReader, type ForeignLetter } from '../messages/mailReader.js';
import type { OpenedMail } from '../mime/readMail.js';

/** How a mail came here. */
export interface Arrival {
  /** When the server got it. */
  at: number;
  /** MAIL FROM; null where it is not known. */
  returnPath: string | null;
}

/** For as long an answer that names no Message-ID is believed to answer the letter of the same subject. */
const ANSWERED_WITHIN_MS = 90 * DAY;
const MOST_RECENT = 50;
/** A mail of which not all can be shown is kept as it came, up to this size. */
const MAX_ORIGINAL_BYTES = 10_000_000;
const NO_LETTER: ForeignLetter = { html: '', problem: null };
const DOUBT = 'It names none of your letters: it is believed to answer this one by its sender and subject';

const DELIVERED: Record<Exclude<DeliveryAction, 'failed'>, 'delivered' | 'relayed' | 'delayed'> = {
  delivered: 'delivered',
  relayed: 'relayed',
  // To a list: those behind it tell nothing.
  expanded: 'relayed',
  delayed: 'delayed',
};

/** A copy that a mail is about, and what it says of it. */
interface Found {
  copy: Candidate;
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
export class InboxService {
  constructor(
    private readonly inbox: InboxRepository,
    private readonly reader: MailReader,
    private readonly letters: AnswerLetters,
    private readonly sent: SentService,
    private readonly outbox: OutboxRepository,
    private readonly accounts: AccountService,
    private readonly followups: FollowupsService,
    private readonly recorder: Recorder,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Resolves when it is durable, to whether it is about something that was sent here. The same mail twice is one. */
  async take(raw: Buffer, { at, returnPath }: Arrival): Promise<boolean> {
    const read = await this.reader.read(raw, returnPath);
    if (!read || this.isOwn(read.mail)) return false;
    const { mail, classified } = read;
    const identity = mail.messageIdHeader ?? createHash('sha256').update(raw).digest('hex');
    const when = Math.min(at, this.clock.now());
    // Most mail is about nothing that was sent here: its letter need not be read.
    if (!this.inbox.isKnown(identity) && this.find(classified, mail, when).length === 0) return false;
    // Reports are written by programs: their sentence says it all.
    const isWritten = classified.kind === 'answer' || classified.kind === 'automatic';
    const letter = isWritten ? await this.letters.shown(mail) : NO_LETTER;
    const problem = read.problem ?? letter.problem;
    const taken = this.inbox.transaction(() => {
      if (this.inbox.isKnown(identity)) return true;
      const found = this.find(classified, mail, when);
      const [first] = found;
      if (!first) return false;
      const incomingId = this.inbox.add({
        ...{ identity, kind: classified.kind, at: when, messageId: first.copy.messageId, copyId: first.copy.copyId },
        ...{ messageIdHeader: mail.messageIdHeader, fromName: mail.from.name, fromAddress: mail.from.address },
        ...{ subject: mail.subject, words: first.words, doubt: first.doubt, html: letter.html, problem },
      });
      if (problem !== null && raw.length <= MAX_ORIGINAL_BYTES) this.inbox.keepOriginal(incomingId, raw);
      for (const { copy, apply } of found) {
        apply(incomingId);
        this.changes.note({ messageId: copy.messageId });
      }
      return true;
    });
    if (taken) this.changes.announce();
    return taken;
  }

  /**
   * Says of a reply that was only believed to be one whether it is. One that is ends what waits for a reply; one that is not
   * counts as none.
   *
   * @throws 404 where there is no such reply
   */
  decide(id: number, verdict: IncomingVerdict): void {
    const row = this.inbox.row(id);
    if (!row || row.kind !== 'answer' || row.doubt === null) throw notFound('doubtful reply');
    this.inbox.transaction(() => {
      this.inbox.setVerdict(id, verdict);
      this.recorder.setReplyCounted(id, verdict === 'confirmed');
      if (verdict === 'confirmed') this.followups.answered(this.sent.conversationIds(row.messageId));
      this.changes.note({ messageId: row.messageId });
    });
    this.changes.announce();
  }

  /** Whether a mail may be about something that was sent here, by what its header alone says: the rest is not fetched. */
  mayConcern({
    from,
    references,
    returnPath,
    isReport,
  }: Pick<OpenedMail, 'from' | 'references' | 'returnPath'> & { isReport: boolean }): boolean {
    if (isReport || returnPath === '') return true;
    return this.inbox.copiesOf(references).length > 0 || this.inbox.isKnownPerson(from.address);
  }

  private find(classified: Classified, mail: OpenedMail, at: number): Found[] {
    if (classified.kind === 'delivery') {
      const copies = this.inbox.copiesOf(classified.about);
      const doubt = reportDoubt(mail);
      return classified.recipients.flatMap((report) => {
        const copy = copyOfReport(classified.about, report.addresses, copies);
        // Whoever got the mail knows what a report must name: one that no server can have written changes nothing.
        const apply = (id: number) => doubt === null && this.delivery(copy!, report, id, at);
        return copy ? [{ copy, words: report.words, doubt, apply }] : [];
      });
    }
    if (classified.kind === 'receipt') {
      const { about, addresses, disposition, words } = classified;
      const copy = copyOfReport(about, addresses, this.inbox.copiesOf(about));
      if (!copy) return [];
      const apply = (incomingId: number) => {
        this.inbox.setReadReceipt(copy.copyId, disposition);
        this.recorder.recordPlain({ kind: 'receipt', at, copyId: copy.copyId, incomingId });
      };
      return [{ copy, words, doubt: null, apply }];
    }
    const { kind, words } = classified;
    const found = this.answered(mail, at);
    return found ? [{ ...found, words, apply: (id) => this.answer(found, kind, id, at) }] : [];
  }

  private delivery({ copyId, messageId }: Candidate, report: DeliveryReport, incomingId: number, at: number): void {
    if (report.action !== 'failed') {
      // Word may come late, and in any order: what has arrived is not delayed.
      const late = report.action === 'delayed' && this.inbox.deliveryOf(copyId) !== 'asked';
      if (!late) this.inbox.setDelivery(copyId, DELIVERED[report.action]);
      if (report.action !== 'delayed') this.recorder.recordPlain({ kind: 'delivered', at, copyId, incomingId });
      return;
    }
    if (!this.inbox.fail(copyId, report.words)) return;
    this.outbox.settle(messageId);
    this.recorder.recordPlain({ kind: 'bounced', at, copyId, incomingId });
    this.followups.ended([messageId], 'A letter of it could not be delivered');
  }

  private answer(
    { copy: { copyId, messageId }, doubt }: Pick<Found, 'copy' | 'doubt'>,
    kind: 'answer' | 'automatic',
    incomingId: number,
    at: number,
  ): void {
    const reason = kind === 'automatic' ? MACHINE_ANSWER.name : undefined;
    this.recorder.recordPlain({ kind: 'answered', at, copyId, incomingId, ...(reason && { reason }) });
    // One that is only believed to be a reply makes plans wait until the user has said whether it is one.
    if (kind === 'answer' && doubt === null) this.followups.answered(this.sent.conversationIds(messageId));
  }

  /** The copy that an answer is about: by what it names, else by who wrote it and under which subject. */
  private answered(
    { references, from, subject }: OpenedMail,
    at: number,
  ): { copy: Candidate; doubt: string | null } | null {
    const copy = copyOfAnswer(
      references,
      from.address,
      this.inbox.copiesOf(references.slice(0, MESSAGE_LIMITS.conversation)),
    );
    if (copy) return { copy, doubt: null };
    const root = subjectRoot(subject);
    const recent = this.inbox.recentTo(from.address, at - ANSWERED_WITHIN_MS, MOST_RECENT);
    const alike = recent.find((one) => one.sentAt <= at && subjectRoot(one.subject) === root);
    return alike && root !== '' ? { copy: alike, doubt: DOUBT } : null;
  }

  /** What the sender wrote, here or elsewhere, is no answer. Reports come from servers, whatever they call themselves. */
  private isOwn({ from, reports }: OpenedMail): boolean {
    return reports.length === 0 && addressKey(from.address) === addressKey(this.accounts.sender().address);
  }
}
