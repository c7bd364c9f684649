import { simpleParser } from 'mailparser';
import { SMTPServer, type SMTPServerSession } from 'smtp-server';
import { correspondence, type Postman } from './correspondent.js';
import { isMailboxName, type Mailboxes } from './mailboxes.js';

const MAX_STANDIN_MAIL_BYTES = 50_000_000;

interface Refusal {
  responseCode: number;
  message: string;
  /** Refused only this often, then accepted. */
  times?: number;
}

/** Who cannot be reached, as in the world outside. Everybody else has a mailbox here. */
const REFUSALS: [who: RegExp, refusal: Refusal][] = [
  [/^jonas@ekdaughters\.example$/, { responseCode: 550, message: '5.1.1 No mailbox by this name here' }],
  [/^gone\b.*@/, { responseCode: 550, message: '5.1.1 No mailbox by this name here' }],
  [/^busy\b.*@/, { responseCode: 451, message: '4.2.1 Mailbox busy, try again later', times: 1 }],
];

/** The mail server of all recipients: accepts what comes for the made-up world, and keeps it. */
export function createMailServer(mailboxes: Mailboxes, postman: Postman): SMTPServer {
  const refused = new Map<string, number>();
  return new SMTPServer({
    banner: 'Kiraku stand-in: a simulated mail server',
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    disableReverseLookup: true,
    size: MAX_STANDIN_MAIL_BYTES,
    closeTimeout: 500,
    // Delivery receipts (RFC 3461) are offered, and given.
    hideDSN: false,
    onRcptTo({ address }, _session, callback) {
      const who = address.toLowerCase();
      if (!isMailboxName(who)) return callback(reply(553, '5.1.3 This address cannot be one'));
      if (!who.endsWith('.example')) return callback(reply(550, '5.7.1 Only the made-up world is reached from here'));
      const refusal = REFUSALS.find(([pattern]) => pattern.test(who))?.[1];
      const before = refused.get(who) ?? 0;
      if (!refusal || before >= (refusal.times ?? Infinity)) return callback();
      refused.set(who, before + 1);
      callback(reply(refusal.responseCode, refusal.message));
    },
    onData(stream, session, callback) {
      const chunks: Buffer[] = [];
      // The library begins another once it has answered.
      const { envelope } = session;
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('error', callback);
      stream.on('end', () => {
        if (stream.sizeExceeded) return callback(reply(552, '5.3.4 Too large'));
        const raw = Buffer.concat(chunks);
        Promise.all(envelope.rcptTo.map(({ address }) => mailboxes.keep(address, raw))).then(
          () => {
            callback();
            void giveReceipts(raw, envelope, postman);
          },
          (error: Error) => callback(error),
        );
      });
    },
  });
}

/** Tells the sender that a mail lies in its mailbox, where they asked to be told. It is no loss where they are away. */
async function giveReceipts(raw: Buffer, envelope: SMTPServerSession['envelope'], postman: Postman): Promise<void> {
  const asked = envelope.rcptTo.filter(({ dsn }) => dsn?.notify?.includes('SUCCESS'));
  if (asked.length === 0 || !envelope.mailFrom) return;
  const mail = await simpleParser(raw);
  for (const { address } of asked)
    await postman
      .bring(correspondence.delivered({ address, mail }), '', envelope.mailFrom.address)
      .catch(() => undefined);
}

function reply(responseCode: number, message: string): Error {
  return Object.assign(new Error(message), { responseCode });
}
