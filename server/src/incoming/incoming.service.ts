import { createHash } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { DeliveryAction, IncomingKind, IncomingVerdict } from '@kiraku/core/contract';
import type { ReportedAction } from '@kiraku/core/delivery';
import {
  copyOfReport,
  readSubject,
  repliedBySubject,
  reportDoubt,
  whoseReply,
  type Candidate,
  type Classified,
  type DeliveryReport,
  type DeliveryStatus,
  type DispositionReport,
  type Reply,
  type Whose,
} from '@kiraku/core/incoming';
import { DAY } from '@kiraku/core/time';
import { AUTOMATIC_REPLY, ownTargetsIn, PERHAPS_AUTOMATIC } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { invalid, notFound } from '../http/problem.js';
import { SentService } from '../messages/sent.service.js';
import { DeliveryRepository } from '../delivery/delivery.repository.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { OwnAddresses } from '../submission/ownAddresses.js';
import { Recorder } from '../tracking/recorder.js';
import { ReplyBodies } from './replyBodies.js';
import { IncomingRepository } from './incoming.repository.js';
import { MailReader, type ForeignBody } from '../messages/mailReader.js';
import type { OpenedMail } from '../mime/readMail.js';

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

/** What the header of a mail says that is not fetched yet. */
export interface MailHeader extends Pick<OpenedMail, 'references' | 'returnPath' | 'subject'> {
  /** Addresses of who may have written it. */
  writers: string[];
  isReport: boolean;
}

/** For as long a reply that names no Message-ID is taken to reply to the message of the same subject. */
const REPLIED_WITHIN_MS = 90 * DAY;
/** For as long a program that names nothing at all is taken to have replied to the newest message. */
const AUTOMATIC_WITHIN_MS = 7 * DAY;
const MAX_RECENT_MESSAGES = 50;
/** Of the addresses of ours that a mail quotes, so many are looked up. */
const MAX_QUOTED_TOKENS = 200;
/** A mail of which not all can be shown is kept as it came, up to this size. */
const MAX_ORIGINAL_BYTES = 10_000_000;
const NO_BODY: ForeignBody = { html: '', problem: null };
const ONLY_BEGINNING = 'It is larger than 50 MB: only its beginning was read.';
const NAMES_NOTHING = 'It names none of your messages: it came from the last recipient of this one';

const REPORTED: Record<DeliveryAction, ReportedAction> = {
  delivered: 'delivered',
  relayed: 'relayed',
  // To a list: those behind it tell nothing.
  expanded: 'relayed',
  delayed: 'delayed',
  failed: 'failed',
};

/** Why a reply does not count by itself. */
const NOT_COUNTED: Partial<Record<Reply['kind'], string>> = {
  automatic: AUTOMATIC_REPLY.name,
  'perhaps-automatic': PERHAPS_AUTOMATIC.name,
};

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
    private readonly sent: SentService,
    private readonly delivery: DeliveryRepository,
    private readonly ownAddresses: OwnAddresses,
    private readonly followups: FollowupsService,
    private readonly recorder: Recorder,
    private readonly changes: Changes,
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
    if (!read || this.isOwn(read.mail)) return false;
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
        this.changes.note({ messageId });
      }
      return true;
    });
  }

  /**
   * Says of a doubtful reply whether it is one. One that is ends what waits for a reply; one that is not counts as none.
   *
   * @param copyId whose it is, where that was not known
   * @throws 404 where there is no such reply, 422 where it is not said whose it is
   */
  decide(id: number, verdict: IncomingVerdict, copyId: number | null = null): void {
    const row = this.inbox.row(id);
    if (!row || !isReply(row.kind) || row.doubt === null) throw notFound('doubtful reply');
    const whose = row.copyId ?? (verdict === 'confirmed' ? copyId : null);
    if (row.copyId === null && copyId !== null && !this.inbox.isCopyOf(copyId, row.messageId))
      throw notFound('recipient');
    if (verdict === 'confirmed' && whose === null) throw invalid('Say whose reply it is.');
    this.unit.commit(() => {
      this.inbox.setVerdict(id, verdict, whose);
      if (row.copyId === null && whose !== null)
        this.recorder.recordPlain({ kind: 'replied', at: row.at, copyId: whose, incomingId: id });
      this.recorder.setReplyCounted(id, verdict === 'confirmed');
      if (verdict === 'confirmed') this.followups.replied(this.sent.conversationIds(row.messageId));
      this.changes.note({ messageId: row.messageId });
    });
  }

  /**
   * Whether a mail may be about something that was sent here, by what its header alone says: the rest is not fetched. What calls
   * itself a reply, or forwarded, may quote what was sent, whoever wrote it.
   */
  mayConcern({ writers, references, returnPath, isReport, subject }: MailHeader): boolean {
    if (isReport || returnPath === '' || readSubject(subject).isReply) return true;
    return this.inbox.isAbout(references) || this.inbox.personsOf(writers).size > 0;
  }

  private find(classified: Classified, mail: OpenedMail, at: number): Found[] {
    if (classified.kind === 'dsn') return this.deliveries(classified, mail, at);
    if (classified.kind === 'mdn') return this.receipt(classified, mail, at);
    const whose = this.whose(classified, mail, at);
    if (!whose) return [];
    const doubt = [whose.doubt, classified.doubt].filter((one) => one !== null).join('. ') || null;
    const found = { ...whose, words: classified.words, doubt };
    return [{ ...found, apply: (id) => this.reply(found, classified.kind, id, at) }];
  }

  /** Of each copy that a delivery report tells of, all that it says, in its order. */
  private deliveries({ about, recipients }: DeliveryStatus, mail: OpenedMail, at: number): Found[] {
    const quotedCopyIds = this.quotedCopies(mail);
    const copies = this.inbox.candidates(about, quotedCopyIds);
    const doubt = reportDoubt(mail);
    const byCopy = new Map<Candidate, DeliveryReport[]>();
    for (const report of recipients) {
      const { addresses } = report;
      const personIds = this.inbox.personsOf(addresses);
      const copy = copyOfReport({ about, addresses, personIds, quotedCopyIds, mayBeElsewhere: true }, copies);
      if (copy) byCopy.set(copy, [...(byCopy.get(copy) ?? []), report]);
    }
    return [...byCopy].map(([copy, reports]) => ({
      ...copy,
      words: reportText(reports),
      doubt,
      // Whoever got the mail knows what a report must name: one that no server can have written changes nothing.
      apply: (id) => doubt === null && this.delivered(copy, reports, id, at),
    }));
  }

  private receipt({ about, addresses, disposition, words }: DispositionReport, mail: OpenedMail, at: number): Found[] {
    const quotedCopyIds = this.quotedCopies(mail);
    const personIds = this.inbox.personsOf(addresses);
    const signs = { about, addresses, personIds, quotedCopyIds, mayBeElsewhere: false };
    const copy = copyOfReport(signs, this.inbox.candidates(about, quotedCopyIds));
    if (!copy) return [];
    const apply = (incomingId: number) => {
      this.inbox.setMdnState(copy.copyId, disposition);
      this.recorder.recordPlain({ kind: 'receipt', at, copyId: copy.copyId, incomingId });
    };
    return [{ ...copy, words, doubt: null, apply }];
  }

  /** What arrived is noted first: behind one address there can be several, and where some of them got it, it has arrived. */
  private delivered({ copyId, messageId }: Candidate, reports: DeliveryReport[], incomingId: number, at: number): void {
    for (const { action, addresses, words } of [...reports].sort(arrivalsFirst)) {
      const reported = REPORTED[action];
      const event = { kind: 'reported', action: reported, words, address: addresses.at(-1)! } as const;
      const after = this.delivery.apply(copyId, event);
      if (reported === 'delayed' || (reported === 'failed' && !after)) continue;
      this.recorder.recordPlain({ kind: reported === 'failed' ? 'bounced' : 'delivered', at, copyId, incomingId });
      if (after?.state === 'failed') this.followups.ended([messageId], 'A message of it could not be delivered');
    }
  }

  private reply(
    { messageId, copyId, doubt }: Pick<Found, 'messageId' | 'copyId' | 'doubt'>,
    kind: Reply['kind'],
    incomingId: number,
    at: number,
  ): void {
    const reason = NOT_COUNTED[kind];
    if (copyId !== null)
      this.recorder.recordPlain({ kind: 'replied', at, copyId, incomingId, ...(reason && { reason }) });
    // A doubtful one makes plans wait until the user has said whether it is one.
    if (kind === 'reply' && doubt === null) this.followups.replied(this.sent.conversationIds(messageId));
  }

  /** What a reply belongs to: by what it names and quotes, else by who wrote it and under which subject. */
  private whose({ kind }: Reply, mail: OpenedMail, at: number): Whose | null {
    const addresses = [mail.from, ...mail.replyTo].map(({ address }) => address);
    const personIds = this.inbox.personsOf(addresses);
    const quotedCopyIds = this.quotedCopies(mail);
    const { references } = mail;
    const candidates = this.inbox.candidates(references, quotedCopyIds);
    const named = whoseReply({ references, addresses, personIds, quotedCopyIds }, candidates);
    if (named) return named;
    const recent = this.inbox.recentTo(personIds, at - REPLIED_WITHIN_MS, at, MAX_RECENT_MESSAGES);
    const bySubject = repliedBySubject(mail.subject, recent);
    if (bySubject || kind === 'reply') return bySubject;
    const [newest] = recent;
    return newest && newest.sentAt > at - AUTOMATIC_WITHIN_MS ? { ...newest, doubt: NAMES_NOTHING } : null;
  }

  /** The copies whose image, links or files a mail quotes or returns. */
  private quotedCopies({ html, text, returned }: OpenedMail): number[] {
    return this.inbox.copiesOfTargets(ownTargetsIn(`${html ?? ''}\n${text}\n${returned}`, MAX_QUOTED_TOKENS));
  }

  /** What the sender wrote, here or elsewhere, is no reply. Reports come from servers, whatever they call themselves. */
  private isOwn({ from, reports }: OpenedMail): boolean {
    return reports.length === 0 && this.ownAddresses.has(from.address);
  }
}

const arrivalsFirst = (a: DeliveryReport, b: DeliveryReport) =>
  Number(REPORTED[a.action] === 'failed') - Number(REPORTED[b.action] === 'failed');

function isReply(kind: IncomingKind): boolean {
  return kind === 'reply' || kind === 'perhaps-automatic';
}

/** What a report says of one copy; of several behind its address each by name. */
function reportText(reports: readonly DeliveryReport[]): string {
  if (reports.length === 1) return reports[0]!.words;
  return reports.map(({ addresses, words }) => `${addresses.at(-1)}: ${words}`).join(' ');
}
