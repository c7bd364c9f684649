import { Injectable } from '@nestjs/common';
import type { Draft, DraftContent, Recipient } from '@kiraku/core/contract';
import { withFilesNamed } from '@kiraku/core/files';
import { addressProblem, replySubject, BLANK_CONTENT, goingOn, MESSAGE_LIMITS } from '@kiraku/core/message';
import { exactWords } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { invalid, notFound } from '../http/problem.js';
import { MailReader } from './mailReader.js';
import type { OpenedMail } from '../mime/readMail.js';
import { wholeMail } from '../delivery/mailBytes.js';
import type { OutgoingMessage, CopyTrackingUrls } from './outgoingMessage.js';
import { DraftsService } from './drafts.service.js';
import { contentIdOf } from './messageBody.js';
import { OutgoingService } from './outgoing.service.js';
import { MessagesRepository, type WholeMessage } from './messages.repository.js';
import { PicturesRepository } from './pictures.repository.js';
import { WritingSettings } from './writing.settings.js';

const NO_FILES = new Map<number, string>();
const PLAIN: Omit<CopyTrackingUrls, 'linkUrls'> = {
  messageIdHeader: '',
  imageUrl: null,
  optOutUrl: null,
  namesBcc: true,
  fileUrls: NO_FILES,
};

/** Messages as mails and mails as messages: .eml files out and in, and replies that quote. */
@Injectable()
export class MailsService {
  constructor(
    private readonly drafts: DraftsService,
    private readonly messages: MessagesRepository,
    private readonly outgoing: OutgoingService,
    private readonly pictures: PicturesRepository,
    private readonly reader: MailReader,
    private readonly writing: WritingSettings,
    private readonly clock: Clock,
  ) {}

  /** A draft as a mail, without tracking. */
  draftMail(draft: Draft): Promise<Buffer> {
    return plainMail(
      this.outgoing.written(draft, this.clock.now(), false),
      `<draft-${draft.id}.${draft.revision}@kiraku.invalid>`,
    );
  }

  /** A sent message as its sender keeps it: without tracking, so that reading one's own mail never counts. */
  async sentMail(id: number): Promise<Buffer> {
    const row = this.sentRow(id);
    const outgoing = await this.outgoing.sent(row);
    if (!outgoing) throw notFound('mail');
    const [first] = this.messages.copies(id);
    return plainMail(outgoing, first?.messageIdHeader ?? `<message-${id}@kiraku.invalid>`);
  }

  /**
   * Begins a draft that goes on with the conversation, and quotes the message.
   *
   * @param copyId whose recipient it is to; null for everybody whom the recipients know of
   */
  reply(id: number, copyId: number | null): Draft {
    const row = this.sentRow(id);
    const copies = this.messages.copies(id);
    const own = copies.find((copy) => copy.id === copyId);
    if (copyId !== null && !own) throw notFound('recipient of this message');
    const first = own ?? copies[0];
    const { trackOpens, trackClicks, disclose, requestDsn, requestMdn } = this.writing.defaults();
    const when = exactWords(row.sentAt ?? row.queuedAt ?? row.createdAt);
    return this.drafts.add({
      ...BLANK_CONTENT,
      trackOpens,
      trackClicks,
      disclose,
      requestDsn,
      requestMdn,
      recipients: own ? [{ ...own.recipient, kind: 'to' }] : row.recipients.filter((one) => one.kind !== 'bcc'),
      subject: replySubject(row.subject),
      html: `<p></p><p>On ${when} I wrote:</p><blockquote>${withFilesNamed(row.html)}</blockquote>`,
      conversation: goingOn(row.conversation, [
        ...(first ? [first.messageIdHeader] : []),
        // What they replied to is what one replies to.
        ...this.messages.replies(id, copyId),
      ]),
    });
  }

  /**
   * Opens a mail as a draft: its recipients, subject and message with its pictures. Tracking of ours is taken out.
   *
   * @throws 422 where it is no mail
   */
  async open(raw: Buffer): Promise<{ draft: Draft; leftOut: string[] }> {
    const read = await this.reader.read(raw, null).catch(() => null);
    if (!read) throw invalid('This is not an email. Save it from your mail app as .eml, and drop that file.');
    const { mail } = read;
    const { html, problem } = await this.reader.bodyOf(mail, this.keptPictures(mail));
    const content: DraftContent = {
      ...BLANK_CONTENT,
      ...this.switches(),
      recipients: recipientsOf(mail),
      subject: mail.subject.slice(0, MESSAGE_LIMITS.maxSubjectChars),
      html: html.slice(0, MESSAGE_LIMITS.maxHtmlChars),
      conversation: [...new Set(mail.references)].slice(0, MESSAGE_LIMITS.maxConversationIds).reverse(),
    };
    const problems = [read.problem ?? problem].filter((one) => one !== null);
    return { draft: this.drafts.add(content), leftOut: [...mail.attachments, ...problems] };
  }

  private switches() {
    const { trackOpens, trackClicks, disclose, requestDsn, requestMdn } = this.writing.defaults();
    return { trackOpens, trackClicks, disclose, requestDsn, requestMdn };
  }

  /** The pictures of a mail as ours, by their Content-IDs there. */
  private keptPictures({ pictures }: OpenedMail): Map<string, string> {
    const now = this.clock.now();
    return new Map(
      pictures.map(({ contentId, mediaType, bytes }) => [
        contentId,
        `cid:${contentIdOf(this.pictures.add(mediaType, Buffer.from(bytes), now))}`,
      ]),
    );
  }

  private sentRow(id: number): WholeMessage {
    const row = this.messages.row(id);
    if (!row || row.state === 'draft') throw notFound('sent message');
    return row;
  }
}

async function plainMail(outgoing: OutgoingMessage, messageIdHeader: string): Promise<Buffer> {
  const made = await outgoing.make({ ...PLAIN, messageIdHeader, linkUrls: outgoing.tracked.map(() => null) });
  return wholeMail(made, outgoing.shared);
}

function recipientsOf(mail: OpenedMail): Recipient[] {
  return (['to', 'cc', 'bcc'] as const)
    .flatMap((kind) => mail[kind].map((mailbox) => ({ kind, ...mailbox })))
    .filter(({ address }) => addressProblem(address) === null)
    .slice(0, MESSAGE_LIMITS.maxRecipients);
}
