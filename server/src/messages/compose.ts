import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import type { Mailbox, Recipient } from '@kiraku/core/contract';
import { flowed } from '@kiraku/core/message';

/** A picture that the message shows by `cid:` (RFC 2392). */
export interface InlinePicture {
  contentId: string;
  mediaType: string;
  bytes: Buffer;
}

export interface CopyContent {
  sender: Mailbox;
  /** All recipients of the message: those in To and Cc are named in every copy, those in Bcc in what its sender keeps. */
  recipients: readonly Recipient[];
  subject: string;
  /** The instrumented message. */
  html: string;
  text: string;
  /** With angle brackets (RFC 5322, section 3.6.4). */
  messageId: string;
  date: Date;
  /** Whether the recipient's program is asked for a disposition notification (RFC 8098, section 2.1). */
  requestMdn: boolean;
  /** The Message-IDs that this one follows, oldest first. */
  conversation: readonly string[];
  pictures: readonly InlinePicture[];
  /** What travels as an attachment, besides its message. */
  attachments: readonly { name: string; mediaType: string; bytes: Buffer }[];
  namesBcc: boolean;
  /** Where mail programs can opt out by themselves; null where they are not offered to. */
  oneClickUrl: string | null;
}

/**
 * Builds the mail of one copy as it will leave (RFC 5322, RFC 2045): multipart/alternative of plain text and HTML, the
 * HTML with its pictures in a multipart/related where it has some; all in a multipart/mixed where files are attached.
 */
export function composeCopy(content: CopyContent): Promise<Buffer> {
  const { sender, conversation, pictures, attachments } = content;
  const named = (kind: Recipient['kind']) =>
    content.recipients.filter((recipient) => recipient.kind === kind).map(({ name, address }) => ({ name, address }));
  const composer = new MailComposer({
    from: { ...sender },
    to: named('to'),
    cc: named('cc'),
    bcc: content.namesBcc ? named('bcc') : [],
    subject: content.subject,
    text: flowed(content.text),
    html: crlf(content.html),
    attachments: [
      ...pictures.map(({ contentId, mediaType, bytes }, index) => ({
        cid: contentId,
        filename: `picture${index + 1}.${mediaType.split('/')[1]}`,
        contentType: mediaType,
        contentDisposition: 'inline' as const,
        content: bytes,
      })),
      ...attachments.map(({ name, mediaType, bytes }) => ({
        filename: name,
        contentType: mediaType,
        contentDisposition: 'attachment' as const,
        content: bytes,
      })),
    ],
    messageId: content.messageId,
    inReplyTo: conversation.at(-1),
    references: [...conversation],
    date: content.date,
    headers: {
      ...(content.requestMdn && { 'Disposition-Notification-To': sender.address }),
      ...(content.oneClickUrl !== null && oneClick(content.oneClickUrl)),
    },
    // Not to be drawn into loading anything by what a message says.
    disableFileAccess: true,
    disableUrlAccess: true,
  });
  const mail = composer.compile();
  mail.keepBcc = content.namesBcc;
  // The library sets this type by itself and knows no parameter of RFC 3676; the plain text is the first of all parts.
  let first = mail;
  while (first.childNodes.length > 0) first = first.childNodes[0]!;
  first.setHeader('Content-Type', 'text/plain; charset=utf-8; format=flowed');
  return mail.build();
}

/** What a mail program needs to opt out with one press (RFC 2369, section 3.2; RFC 8058, section 3.1). */
function oneClick(url: string): Record<string, string> {
  return { 'List-Unsubscribe': `<${url}>`, 'List-Unsubscribe-Post': 'List-Unsubscribe=One-Click' };
}

/** RFC 5321, section 2.3.8: lines end with CRLF, and what lies in the outbox is what will leave. */
function crlf(text: string): string {
  return text.replace(/\r\n|\r|\n/g, '\r\n');
}
