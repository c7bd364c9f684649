import { Injectable } from '@nestjs/common';
import {
  copyOfReport,
  readSubject,
  repliedBySubject,
  whoseReply,
  type Candidate,
  type DeliveryReport,
  type DeliveryStatus,
  type DispositionReport,
  type Reply,
  type Whose,
} from '@kiraku/core/incoming';
import { DAY } from '@kiraku/core/time';
import { ownTargetsIn } from '@kiraku/core/tracking';
import type { OpenedMail } from '../mime/readMail.js';
import { OwnAddresses } from '../submission/ownAddresses.js';
import { IncomingRepository } from './incoming.repository.js';
import type { MailHeader } from './mailHeader.js';

/** For as long a reply that names no Message-ID is taken to reply to the message of the same subject. */
const REPLIED_WITHIN_MS = 90 * DAY;
/** For as long a program that names nothing at all is taken to have replied to the newest message. */
const AUTOMATIC_WITHIN_MS = 7 * DAY;
const MAX_RECENT_MESSAGES = 50;
/** Of the addresses of ours that a mail quotes, so many are looked up. */
const MAX_QUOTED_TOKENS = 200;
const NAMES_NOTHING = 'It names none of your messages: it came from the last recipient of this one';

/** Finds what was sent here that a mail is about. */
@Injectable()
export class Matching {
  constructor(
    private readonly inbox: IncomingRepository,
    private readonly ownAddresses: OwnAddresses,
  ) {}

  /**
   * Whether a mail may be about something that was sent here, by what its header alone says: the rest is not fetched. What calls
   * itself a reply, or forwarded, may quote what was sent, whoever wrote it.
   */
  mayConcern({ writers, references, returnPath, isReport, subject }: MailHeader): boolean {
    if (isReport || returnPath === '' || readSubject(subject).isReply) return true;
    return this.inbox.isAbout(references) || this.inbox.personsOf(writers).size > 0;
  }

  /** Of each copy that a delivery report tells of, all that it says, in its order. */
  copiesOfReport({ about, recipients }: DeliveryStatus, mail: OpenedMail): Map<Candidate, DeliveryReport[]> {
    const quotedCopyIds = this.quotedCopies(mail);
    const copies = this.inbox.candidates(about, quotedCopyIds);
    const byCopy = new Map<Candidate, DeliveryReport[]>();
    for (const report of recipients) {
      const { addresses } = report;
      const personIds = this.inbox.personsOf(addresses);
      const copy = copyOfReport({ about, addresses, personIds, quotedCopyIds, mayBeElsewhere: true }, copies);
      if (copy) byCopy.set(copy, [...(byCopy.get(copy) ?? []), report]);
    }
    return byCopy;
  }

  /** The copy that a read receipt is about; null where it is none of ours. */
  copyOfReceipt({ about, addresses }: DispositionReport, mail: OpenedMail): Candidate | null {
    const quotedCopyIds = this.quotedCopies(mail);
    const personIds = this.inbox.personsOf(addresses);
    const signs = { about, addresses, personIds, quotedCopyIds, mayBeElsewhere: false };
    return copyOfReport(signs, this.inbox.candidates(about, quotedCopyIds));
  }

  /** What a reply belongs to: by what it names and quotes, else by who wrote it and under which subject. */
  whose({ kind }: Reply, mail: OpenedMail, at: number): Whose | null {
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

  /** What the sender wrote, here or elsewhere, is no reply. Reports come from servers, whatever they call themselves. */
  isOwn({ from, reports }: OpenedMail): boolean {
    return reports.length === 0 && this.ownAddresses.has(from.address);
  }

  /** The copies whose image, links or files a mail quotes or returns. */
  private quotedCopies({ html, text, returned }: OpenedMail): number[] {
    return this.inbox.copiesOfTargets(ownTargetsIn(`${html ?? ''}\n${text}\n${returned}`, MAX_QUOTED_TOKENS));
  }
}
