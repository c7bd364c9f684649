import { randomUUID } from 'node:crypto';
import type { ParsedMail } from 'mailparser';
import { createTransport } from 'nodemailer';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';

/** A mail that somebody has in their mailbox. */
export interface Held {
  address: string;
  mail: ParsedMail;
}

export const DISPOSITIONS = ['displayed', 'deleted', 'denied'] as const;
export type Disposition = (typeof DISPOSITIONS)[number];

/** What the other side’s mail server may say afterwards: RFC 3464’s action, RFC 3463’s code, and its words. */
export const BOUNCES = {
  unknown: { action: 'failed', status: '5.1.1', words: '550 5.1.1 No mailbox by this name here' },
  full: { action: 'failed', status: '5.2.2', words: '552 5.2.2 Mailbox full' },
  spam: { action: 'failed', status: '5.7.1', words: '554 5.7.1 Looks like unwanted mail' },
  delayed: { action: 'delayed', status: '4.2.1', words: '451 4.2.1 Mailbox busy, still trying' },
} as const;
export type Bounce = keyof typeof BOUNCES;

/** What recipients, their programs and their mail servers write back: mails as they really look. */
export const correspondence = {
  /** A reply by hand, as programs quote. */
  replyTo({ address, mail }: Held, text: string, quotes: boolean): Promise<Buffer> {
    const quoted = `<p>${mail.from?.text ? escape(mail.from.text) : 'You'} wrote:</p><blockquote>${mail.html || escape(mail.text ?? '')}</blockquote>`;
    const html = `<p>${escape(text).replace(/\n/g, '<br>')}</p>`;
    return written(address, mail, {
      text: quotes ? `${text}\n\n${mail.from?.text ?? 'You'} wrote:\n${(mail.text ?? '').replace(/^/gm, '> ')}` : text,
      html: quotes ? html + quoted : html,
    });
  },

  /** What a program answers by itself (RFC 3834). */
  away({ address, mail }: Held): Promise<Buffer> {
    return written(address, mail, {
      subject: `Automatic reply: ${mail.subject ?? ''}`,
      text: 'Thank you for your mail. I am out of the office until Monday, and will read it then.',
      headers: { 'Auto-Submitted': 'auto-replied' },
    });
  },

  /** A receipt (RFC 8098); null where none was asked for. */
  receipt({ address, mail }: Held, disposition: Disposition): Buffer | null {
    if (!mail.headers.has('disposition-notification-to')) return null;
    return report('disposition-notification', {
      from: address,
      to: addressOf(mail),
      subject: `Receipt: ${mail.subject ?? ''}`,
      words: disposition === 'denied' ? 'No receipt is sent for this mail.' : `This mail was ${disposition}.`,
      fields: [
        'Reporting-UA: stand-in.example; Simulated',
        `Original-Recipient: rfc822;${address}`,
        `Final-Recipient: rfc822;${address}`,
        `Original-Message-ID: ${mail.messageId ?? ''}`,
        `Disposition: manual-action/MDN-sent-manually; ${disposition}`,
      ],
    });
  },

  /** Word of the mail server that had taken it (RFC 3464). */
  bounce({ address, mail }: Held, bounce: Bounce): Buffer {
    const { action, status, words } = BOUNCES[bounce];
    return deliveryReport(mail, address, action, status, words);
  },

  /** That it lies in the mailbox, for who asked to be told (RFC 3461). */
  delivered({ address, mail }: Held): Buffer {
    return deliveryReport(mail, address, 'delivered', '2.0.0', '250 2.0.0 Kept');
  },
};

/** Brings mail to the sender’s desk, as their own mail server would (LMTP, RFC 2033). */
export class Postman {
  constructor(private readonly lmtpPort: number) {}

  /** @param from of the envelope; empty for reports */
  async bring(raw: Buffer, from: string, to: string): Promise<void> {
    const transport = createTransport({
      lmtp: true,
      host: '127.0.0.1',
      port: this.lmtpPort,
      ignoreTLS: true,
      connectionTimeout: 5000,
    } as never);
    await transport.sendMail({ envelope: { from, to: [to] }, raw }).finally(() => transport.close());
  }
}

/** To whom a reply goes. */
export function addressOf(mail: ParsedMail): string {
  return mail.replyTo?.value[0]?.address ?? mail.from?.value[0]?.address ?? '';
}

function written(
  address: string,
  mail: ParsedMail,
  {
    subject = `Re: ${(mail.subject ?? '').replace(/^re:\s*/i, '')}`,
    ...content
  }: { subject?: string; text: string; html?: string; headers?: Record<string, string> },
): Promise<Buffer> {
  const references = [mail.references ?? []].flat();
  return new MailComposer({
    from: address,
    to: addressOf(mail),
    subject,
    ...content,
    inReplyTo: mail.messageId ?? '',
    references: [...references, mail.messageId ?? ''],
    disableFileAccess: true,
    disableUrlAccess: true,
  })
    .compile()
    .build();
}

function deliveryReport(mail: ParsedMail, address: string, action: string, status: string, words: string): Buffer {
  const domain = address.slice(address.indexOf('@') + 1);
  return report('delivery-status', {
    from: `mailer-daemon@${domain}`,
    to: addressOf(mail),
    subject: 'Delivery report',
    words: `This is the mail server of ${domain}. ${words}.`,
    fields: [
      `Reporting-MTA: dns; mx.${domain}`,
      '',
      `Original-Recipient: rfc822;${address}`,
      `Final-Recipient: rfc822;${address}`,
      `Action: ${action}`,
      `Status: ${status}`,
      `Diagnostic-Code: smtp; ${words}`,
    ],
    returned: [`Message-ID: ${mail.messageId ?? ''}`, `Subject: ${(mail.subject ?? '').replace(/[^\x20-\x7e]/g, '?')}`],
  });
}

interface Report {
  from: string;
  to: string;
  subject: string;
  words: string;
  fields: string[];
  returned?: string[];
}

/** A multipart/report (RFC 6522). */
function report(type: string, { from, to, subject, words, fields, returned }: Report): Buffer {
  const part = (mediaType: string, lines: string[]) => ['--report', `Content-Type: ${mediaType}`, '', ...lines, ''];
  return Buffer.from(
    [
      `From: ${from}`,
      `To: ${to}`,
      `Subject: ${subject.replace(/[^\x20-\x7e]/g, '?')}`,
      `Date: ${new Date().toUTCString().replace('GMT', '+0000')}`,
      `Message-ID: <${randomUUID()}@stand-in.example>`,
      'Auto-Submitted: auto-replied',
      'MIME-Version: 1.0',
      `Content-Type: multipart/report; report-type=${type}; boundary="report"`,
      '',
      ...part('text/plain', [words]),
      ...part(`message/${type}`, fields),
      ...(returned ? part('text/rfc822-headers', returned) : []),
      '--report--',
      '',
    ].join('\r\n'),
  );
}

function escape(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => `&#${sign.charCodeAt(0)};`);
}
