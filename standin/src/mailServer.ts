import { SMTPServer } from 'smtp-server';
import { isMailboxName, type Mailboxes } from './mailboxes.js';

const MOST_BYTES = 50_000_000;

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
export function createMailServer(mailboxes: Mailboxes): SMTPServer {
  const refused = new Map<string, number>();
  return new SMTPServer({
    banner: 'Kiraku stand-in: a simulated mail server',
    authOptional: true,
    disabledCommands: ['STARTTLS', 'AUTH'],
    disableReverseLookup: true,
    size: MOST_BYTES,
    closeTimeout: 500,
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
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('error', callback);
      stream.on('end', () => {
        if (stream.sizeExceeded) return callback(reply(552, '5.3.4 Too large'));
        const raw = Buffer.concat(chunks);
        Promise.all(session.envelope.rcptTo.map(({ address }) => mailboxes.keep(address, raw))).then(
          () => callback(),
          (error: Error) => callback(error),
        );
      });
    },
  });
}

function reply(responseCode: number, message: string): Error {
  return Object.assign(new Error(message), { responseCode });
}
