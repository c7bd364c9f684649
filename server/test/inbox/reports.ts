import type { DeliveryAction, Disposition } from '@kiraku/core/contract';
import type { Failing } from '@kiraku/core/inbox';

/*
 * Delivery notices and receipts as different servers and programs write them: by the standards, as a server of
 * Debian’s wrote them, and the untidy ones. All are about the same letter to the same recipient.
 */

export const ABOUT = '<7c1f0a52-letter@tallowreed.example>';
export const RECIPIENT = 'marit@lindqvist.example';

/** What a report must be read as; null for what must not be taken for one. */
export type Expected = { action: DeliveryAction; failing?: Failing } | { disposition: Disposition } | null;

export interface Report {
  name: string;
  mail: string;
  expected: Expected;
}

const crlf = (text: string) => text.replace(/\n/g, '\r\n');

const RETURNED_HEADERS = `From: Ines Valdaro <ines@tallowreed.example>
To: Marit Oakes <${RECIPIENT}>
Subject: Panels for the reading room
Message-ID: ${ABOUT}
Date: Mon, 2 Nov 2026 09:00:00 +0000
MIME-Version: 1.0
Content-Type: text/html`;

interface Dsn {
  from?: string;
  subject?: string;
  /** The block about the mail, and that about the recipient. */
  mail?: string;
  recipient: string;
  human?: string;
  /** The media type of what is returned; null for nothing. */
  returned?: 'message/rfc822' | 'text/rfc822-headers' | 'message/global' | null;
  reportType?: string;
  statusType?: string;
}

/** A multipart/report by RFC 3462. */
function dsn({
  from = 'MAILER-DAEMON@mail.tallowreed.example',
  subject = 'Undelivered Mail Returned to Sender',
  mail = 'Reporting-MTA: dns; mail.tallowreed.example\nArrival-Date: Mon, 2 Nov 2026 09:00:01 +0000 (UTC)',
  recipient,
  human = 'This is the mail system. I am sorry to have to inform you.',
  returned = 'text/rfc822-headers',
  reportType = 'delivery-status',
  statusType = 'message/delivery-status',
}: Dsn): string {
  const original = returned === null ? '' : `--b\nContent-Type: ${returned}\n\n${RETURNED_HEADERS}\n\n`;
  return crlf(`Return-Path: <>
From: Mail Delivery System <${from}>
To: ines@tallowreed.example
Subject: ${subject}
Date: Mon, 2 Nov 2026 09:00:05 +0000
Message-ID: <notice-1@mail.tallowreed.example>
Auto-Submitted: auto-replied
MIME-Version: 1.0
Content-Type: multipart/report; report-type=${reportType}; boundary="b"

--b
Content-Type: text/plain; charset=us-ascii

${human}

--b
Content-Type: ${statusType}

${mail}

${recipient}

${original}--b--
`);
}

const failed = (status: string, diagnostic: string, more = '') =>
  `Final-Recipient: rfc822; ${RECIPIENT}\nOriginal-Recipient: rfc822;${RECIPIENT}\nAction: failed\nStatus: ${status}\n${more}Diagnostic-Code: ${diagnostic}`;

/** A failure in words alone, by whoever writes so. */
function words(from: string, subject: string, body: string, header = ''): string {
  return crlf(`Return-Path: <>
From: ${from}
To: ines@tallowreed.example
Subject: ${subject}
Date: Mon, 2 Nov 2026 09:10:00 +0000
${header}Content-Type: text/plain; charset=utf-8

${body}
`);
}

const COPY = `------ This is a copy of the message, including all the headers. ------

Return-path: <ines@tallowreed.example>
Received: from desk by mail.tallowreed.example
${RETURNED_HEADERS}

Dear Marit,
`;

interface Mdn {
  disposition: string;
  subject?: string;
  fields?: string;
  to?: string;
  from?: string;
  header?: string;
  type?: string;
}

/** A message disposition notification by RFC 8098. */
function mdn({
  disposition,
  subject = 'Read: Panels for the reading room',
  fields = `Reporting-UA: desk.lindqvist.example; A mail program\nOriginal-Recipient: rfc822;${RECIPIENT}\nFinal-Recipient: rfc822;${RECIPIENT}\nOriginal-Message-ID: ${ABOUT}`,
  from = `Marit Oakes <${RECIPIENT}>`,
  header = '',
  type = 'message/disposition-notification',
}: Mdn): string {
  return crlf(`From: ${from}
To: ines@tallowreed.example
Subject: ${subject}
Date: Mon, 2 Nov 2026 10:00:00 +0000
Message-ID: <receipt-1@lindqvist.example>
${header}MIME-Version: 1.0
Content-Type: multipart/report; report-type=disposition-notification; boundary="r"

--r
Content-Type: text/plain

This is a receipt.

--r
Content-Type: ${type}

${fields}
Disposition: ${disposition}

--r--
`);
}

export const REPORTS: readonly Report[] = [
  // Failures by the standard.
  {
    name: 'unknown address',
    mail: dsn({
      recipient: failed('5.1.1', `smtp; 550 5.1.1 <${RECIPIENT}>: Recipient address rejected: User unknown`),
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'unknown address, the whole mail returned',
    mail: dsn({ recipient: failed('5.1.1', 'smtp; 550 No such user here'), returned: 'message/rfc822' }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'nothing returned, named by its envelope identifier',
    mail: dsn({
      mail: `Original-Envelope-Id: ${ABOUT.slice(1, -1)}\nReporting-MTA: dns; mx.lindqvist.example`,
      recipient: failed('5.1.10', 'smtp; 550 5.1.10 RESOLVER.ADR.RecipientNotFound; not found'),
      returned: null,
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'an envelope identifier in xtext',
    mail: dsn({
      mail: `Reporting-MTA: dns; mx.lindqvist.example\nOriginal-Envelope-Id: ${ABOUT.slice(1, -1).replace('-', '+2D')}`,
      recipient: failed('5.2.1', 'smtp; 550 5.2.1 The account is disabled'),
      returned: null,
    }),
    expected: { action: 'failed', failing: 'mailbox-closed' },
  },
  {
    name: 'mailbox full',
    mail: dsn({ recipient: failed('5.2.2', 'smtp; 552 5.2.2 Over quota') }),
    expected: { action: 'failed', failing: 'mailbox-full' },
  },
  {
    name: 'mailbox full, said in words only',
    mail: dsn({ recipient: failed('5.0.0', 'smtp; 552 Quota exceeded (mailbox for user is full)') }),
    expected: { action: 'failed', failing: 'mailbox-full' },
  },
  {
    name: 'refused as spam',
    mail: dsn({ recipient: failed('5.7.1', 'smtp; 554 5.7.1 Message rejected as spam by content filtering') }),
    expected: { action: 'failed', failing: 'refused-as-spam' },
  },
  {
    name: 'refused for its sender’s signature',
    mail: dsn({
      recipient: failed('5.7.26', 'smtp; 550 5.7.26 Unauthenticated mail is not accepted due to DMARC policy'),
    }),
    expected: { action: 'failed', failing: 'refused-as-spam' },
  },
  {
    name: 'refused, for no reason that one knows',
    mail: dsn({ recipient: failed('5.7.0', 'smtp; 550 5.7.0 Denied') }),
    expected: { action: 'failed', failing: 'refused' },
  },
  {
    name: 'too large',
    mail: dsn({ recipient: failed('5.3.4', 'smtp; 552 5.3.4 Message size exceeds fixed limit') }),
    expected: { action: 'failed', failing: 'too-large' },
  },
  {
    name: 'no such domain',
    mail: dsn({
      recipient: failed(
        '5.4.4',
        'X-Postfix; Host or domain name not found. Name service error for name=lindqvist.example',
      ),
    }),
    expected: { action: 'failed', failing: 'domain-unknown' },
  },
  {
    name: 'given up after days',
    mail: dsn({
      recipient: failed('4.4.1', 'X-Postfix; connect to lindqvist.example[192.0.2.9]:25: Connection timed out'),
    }),
    expected: { action: 'failed', failing: 'not-reached' },
  },
  {
    name: 'expired in the queue',
    mail: dsn({ recipient: failed('5.4.7', 'smtp; 554 5.4.7 Delivery time expired') }),
    expected: { action: 'failed', failing: 'not-reached' },
  },
  {
    name: 'round in circles',
    mail: dsn({ recipient: failed('5.4.6', 'X-Postfix; mail for lindqvist.example loops back to myself') }),
    expected: { action: 'failed', failing: 'loop' },
  },
  {
    name: 'folded fields',
    mail: dsn({
      recipient: `Final-Recipient: rfc822;\n ${RECIPIENT}\nAction: failed\nStatus: 5.1.1\n (bad destination mailbox address)\nDiagnostic-Code: smtp;\n 550 5.1.1\n\tNo mailbox by this name`,
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'fields in another case, with a comment behind the action',
    mail: dsn({
      recipient: `FINAL-RECIPIENT: RFC822;${RECIPIENT.toUpperCase()}\nACTION: Failed (permanently)\nSTATUS: 5.1.1`,
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'no code but in the diagnostic',
    mail: dsn({
      recipient: `Final-Recipient: rfc822;${RECIPIENT}\nAction: failed\nDiagnostic-Code: smtp;550-5.1.1 user unknown`,
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'the address in angle brackets',
    mail: dsn({ recipient: `Final-Recipient: rfc822; <${RECIPIENT}>\nAction: failed\nStatus: 5.2.2` }),
    expected: { action: 'failed', failing: 'mailbox-full' },
  },
  {
    name: 'named by the address it was written to, as well as by that it was forwarded to',
    mail: dsn({
      recipient: `Original-Recipient: rfc822;${RECIPIENT}\nFinal-Recipient: rfc822;m.oakes@elsewhere.example\nAction: failed\nStatus: 5.1.1`,
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'international',
    mail: dsn({
      recipient: `Final-Recipient: utf-8; ${RECIPIENT}\nAction: failed\nStatus: 5.1.1\nDiagnostic-Code: smtp; 550 5.1.1 okänd`,
      statusType: 'message/global-delivery-status',
      returned: 'message/global',
    }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'without the block about the mail',
    mail: dsn({ mail: failed('5.1.1', 'smtp; 550 unknown user'), recipient: '' }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  // Other word of the delivery.
  {
    name: 'delayed',
    mail: dsn({
      subject: 'Delayed Mail (still being retried)',
      recipient: `Final-Recipient: rfc822; ${RECIPIENT}\nAction: delayed\nStatus: 4.4.1\nDiagnostic-Code: X-Postfix; connect to mx: Connection refused\nWill-Retry-Until: Sat, 7 Nov 2026 09:00:00 +0000`,
    }),
    expected: { action: 'delayed' },
  },
  {
    name: 'delivered',
    mail: dsn({
      subject: 'Successful Mail Delivery Report',
      recipient: `Final-Recipient: rfc822; ${RECIPIENT}\nOriginal-Recipient: rfc822;${RECIPIENT}\nAction: delivered\nStatus: 2.0.0\nDiagnostic-Code: X-Postfix; delivered to mailbox`,
    }),
    expected: { action: 'delivered' },
  },
  {
    name: 'relayed to one that tells nothing more',
    mail: dsn({
      subject: 'Successful Mail Delivery Report',
      recipient: `Final-Recipient: rfc822; ${RECIPIENT}\nAction: relayed\nStatus: 2.0.0\nRemote-MTA: dns; mx.lindqvist.example\nDiagnostic-Code: smtp; 250 2.0.0 Ok: queued`,
    }),
    expected: { action: 'relayed' },
  },
  {
    name: 'expanded to a list',
    mail: dsn({ recipient: `Final-Recipient: rfc822; ${RECIPIENT}\nAction: expanded\nStatus: 2.0.0` }),
    expected: { action: 'expanded' },
  },
  // In words of their own.
  {
    name: 'in words, the copy below',
    mail: words(
      'Mail Delivery System <Mailer-Daemon@mx.lindqvist.example>',
      'Mail delivery failed: returning message to sender',
      `This message was created automatically by mail delivery software.\n\nA message that you sent could not be delivered to one or more of its\nrecipients. This is a permanent error.\n\n  ${RECIPIENT}\n    SMTP error from remote mail server after RCPT TO:<${RECIPIENT}>:\n    550 5.1.1 No such mailbox\n\n${COPY}`,
      `X-Failed-Recipients: ${RECIPIENT}\n`,
    ),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'failure notice of few words',
    mail: words(
      'MAILER-DAEMON@qm.lindqvist.example',
      'failure notice',
      `Hi. This is the mail program at qm.lindqvist.example.\nI'm afraid I wasn't able to deliver your message to the following addresses.\n\n<${RECIPIENT}>:\n192.0.2.4 does not like recipient.\nRemote host said: 550 mailbox full, over quota\nGiving up.\n\n--- Below this line is a copy of the message.\n\n${RETURNED_HEADERS}\n`,
    ),
    expected: { action: 'failed', failing: 'mailbox-full' },
  },
  {
    name: 'German',
    mail: words(
      'postmaster@lindqvist.example',
      'Unzustellbar: Panels for the reading room',
      `Fehler bei der Nachrichtenzustellung an folgende Empfänger:\n\n${RECIPIENT}\n#550 5.1.1 RESOLVER.ADR.RecipNotFound; not found ##\n\nOriginal message headers:\n\n${RETURNED_HEADERS}\n`,
    ),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'named by References alone',
    mail: words(
      'postmaster@lindqvist.example',
      'Undeliverable: Panels for the reading room',
      `Delivery has failed to these recipients:\n\n${RECIPIENT}\nYour message was not delivered because the policy of the organisation blocks it.\n554 5.7.1\n`,
      `In-Reply-To: ${ABOUT}\nReferences: ${ABOUT}\n`,
    ),
    expected: { action: 'failed', failing: 'refused-as-spam' },
  },
  {
    name: 'a warning that it takes longer',
    mail: words(
      'Mail Delivery System <mailer-daemon@mx.lindqvist.example>',
      'Warning: message delayed 24 hours',
      `A message that you sent has not yet been delivered to one or more of its recipients.\n\n${RECIPIENT}\n    451 4.3.0 try again later\n\n${COPY}`,
    ),
    expected: { action: 'delayed' },
  },
  {
    name: 'a report whose type is wrongly named',
    mail: dsn({ recipient: failed('5.1.1', 'smtp; 550 User unknown'), reportType: 'Delivery-Status; charset=x' }),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  // Receipts.
  {
    name: 'displayed, sent by hand',
    mail: mdn({ disposition: 'manual-action/MDN-sent-manually; displayed' }),
    expected: { disposition: 'displayed' },
  },
  {
    name: 'displayed, by itself',
    mail: mdn({ disposition: 'automatic-action/MDN-sent-automatically; displayed' }),
    expected: { disposition: 'displayed' },
  },
  {
    name: 'deleted unread',
    mail: mdn({ disposition: 'manual-action/MDN-sent-automatically; deleted', subject: 'Not read: Panels' }),
    expected: { disposition: 'deleted' },
  },
  {
    name: 'declined, as older programs say it',
    mail: mdn({ disposition: 'manual-action/MDN-sent-manually; denied' }),
    expected: { disposition: 'denied' },
  },
  {
    name: 'a program dealt with it',
    mail: mdn({ disposition: 'automatic-action/MDN-sent-automatically; dispatched' }),
    expected: { disposition: 'processed' },
  },
  {
    name: 'with a modifier',
    mail: mdn({ disposition: 'manual-action/MDN-sent-manually; displayed/warning' }),
    expected: { disposition: 'displayed' },
  },
  {
    name: 'blank lines between its fields',
    mail: mdn({
      fields: `Reporting-UA: x\n\nFinal-Recipient: rfc822;${RECIPIENT}\n\nOriginal-Message-ID: ${ABOUT}\n`,
      disposition: 'manual-action/MDN-sent-manually;displayed',
    }),
    expected: { disposition: 'displayed' },
  },
  {
    name: 'without the original’s Message-ID, but following it',
    mail: mdn({
      fields: `Final-Recipient: rfc822;${RECIPIENT}`,
      header: `In-Reply-To: ${ABOUT}\n`,
      disposition: 'manual-action/MDN-sent-manually; displayed',
    }),
    expected: { disposition: 'displayed' },
  },
  {
    name: 'from another address of the same house',
    mail: mdn({
      fields: `Final-Recipient: rfc822;marit.oakes@lindqvist.example\nOriginal-Message-ID: ${ABOUT}`,
      from: 'marit.oakes@lindqvist.example',
      disposition: 'manual-action/MDN-sent-manually; displayed',
    }),
    expected: { disposition: 'displayed' },
  },
  {
    name: 'an action that there is not',
    mail: dsn({ recipient: `Final-Recipient: rfc822;${RECIPIENT}\nAction: pondered\nStatus: 5.1.1` }),
    expected: null,
  },
  // What must change nothing.
  {
    name: 'a failure of somebody else’s mail',
    mail: dsn({ recipient: failed('5.1.1', 'smtp; 550 unknown') }).replaceAll(ABOUT, '<other@elsewhere.example>'),
    expected: null,
  },
  {
    name: 'the right mail and an address elsewhere, to which it was handed on',
    mail: dsn({ recipient: failed('5.1.1', 'smtp; 550 unknown') }).replaceAll(
      RECIPIENT,
      'otis@hollowaylibrary.example',
    ),
    expected: { action: 'failed', failing: 'address-unknown' },
  },
  {
    name: 'a receipt that names no mail of ours',
    mail: mdn({ disposition: 'manual-action/MDN-sent-manually; displayed' }).replaceAll(ABOUT, '<x@y.example>'),
    expected: null,
  },
  {
    name: 'a receipt by somebody else',
    mail: mdn({ disposition: 'manual-action/MDN-sent-manually; displayed' }).replaceAll(
      RECIPIENT,
      'eve@elsewhere.example',
    ),
    expected: null,
  },
  {
    name: 'a person who writes of a delivery that failed',
    mail: crlf(`Return-Path: <otis@hollowaylibrary.example>
From: Otis <otis@hollowaylibrary.example>
To: ines@tallowreed.example
Subject: the delivery of the panels failed
In-Reply-To: ${ABOUT}

550 panels could not be delivered: the address ${RECIPIENT} was wrong.
`),
    expected: null,
  },
];
