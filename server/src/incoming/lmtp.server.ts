import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { RefusedService } from '../refused/refused.service.js';
import { OwnAddresses } from '../submission/ownAddresses.js';
import { IncomingService, UnreadableMail } from './incoming.service.js';
import { BEGINNING_BYTES, MAX_MAIL_BYTES } from './largeMail.js';
import { MailboxSettings } from './mailbox.settings.js';

/** A mail server opens twenty by itself, and the next before the last is closed: one that is turned away comes back minutes later. */
const MAX_LMTP_CONNECTIONS = 100;

/** What a mail server is told (RFC 5321, section 4.2; RFC 3463). */
function reply(responseCode: number, words: string): Error {
  return Object.assign(new Error(words), { responseCode });
}

/** Why mail is not taken, without a name that its sender would see if their server gave it up. */
const NOT_NOW = '4.2.1 This mailbox takes no mail at the moment. Try again later';
const NOT_HERE = '4.1.1 There is no such mailbox here yet. Try again later';

/**
 * Where a mail server may deliver what comes in for the user (LMTP, RFC 2033), for the user’s own addresses
 * alone. It says “250” once what follows from a mail is durable; mail that is about nothing of ours is let go. What it does not
 * take is to come later, or is dropped, as the settings say: refused for good it would come back to whoever wrote it.
 */
@Injectable()
export class LmtpServer implements BeforeApplicationShutdown {
  private readonly logger = new Logger(LmtpServer.name);
  private readonly taking = new Set<Promise<void>>();
  private server: SMTPServer | undefined;
  /** 0 where it could not be opened. */
  port = 0;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly ownAddresses: OwnAddresses,
    private readonly settings: MailboxSettings,
    private readonly inbox: IncomingService,
    private readonly refused: RefusedService,
    private readonly clock: Clock,
  ) {}

  /** Resolves when it listens, or cannot: the desk works without it. */
  async open(): Promise<void> {
    const server = new SMTPServer({
      lmtp: true,
      name: 'localhost',
      banner: 'LMTP',
      authOptional: true,
      disabledCommands: ['AUTH', 'STARTTLS'],
      lenientAddressParsing: true,
      disableReverseLookup: true,
      maxClients: MAX_LMTP_CONNECTIONS,
      closeTimeout: 1000,
      onMailFrom: ({ address }, _session, callback) =>
        this.respond(callback, this.isOn() ? null : NOT_NOW, address, []),
      onRcptTo: ({ address }, { envelope }, callback) =>
        this.respond(callback, this.ownAddresses.has(address) ? null : NOT_HERE, fromOf(envelope), [address]),
      onData: (stream, session, callback) => {
        const done = this.take(stream, session).then(
          () => callback(),
          (error: Error & { responseCode?: number }) => {
            if (!error.responseCode) this.logger.error('A mail could not be taken in', error.stack);
            callback(error.responseCode ? error : reply(451, '4.3.0 It could not be kept. Try again later'));
          },
        );
        this.taking.add(done);
        void done.finally(() => this.taking.delete(done));
      },
    });
    server.on('error', (error) => this.logger.warn(`A mail server: ${error.message}`));
    this.server = server;
    await new Promise<void>((resolve) => {
      server.server.once('error', (error: Error) => {
        this.logger.warn(`Mail servers cannot deliver replies: ${error.message}`);
        resolve();
      });
      server.listen(this.config.lmtpPort, this.config.lmtpHost, () => {
        this.port = (server.server.address() as { port: number }).port;
        resolve();
      });
    });
  }

  async beforeApplicationShutdown(): Promise<void> {
    const { server } = this;
    if (!server || this.port === 0) return;
    const closed = new Promise<void>((resolve) => server.close(resolve));
    await Promise.all(this.taking);
    await closed;
  }

  private isOn(): boolean {
    return this.settings.view().way === 'lmtp';
  }

  /** Says whether to go on. What is dropped is taken to its end first, so that all of it can be shown. */
  private respond(callback: Callback, problem: string | null, from: string, to: string[]): void {
    if (problem === null || this.settings.view().unmatched === 'drop') return callback();
    this.refused.note({ way: 'lmtp', from, to, problem: problem.replace(/^[\d.]+ /, ''), raw: null });
    callback(reply(450, problem));
  }

  private async take(stream: SMTPServerDataStream, { envelope }: SMTPServerSession): Promise<void> {
    const [from, to] = [fromOf(envelope), envelope.rcptTo.map(({ address }) => address)];
    const { raw, isCut } = await received(stream);
    const note = (problem: string) => this.refused.note({ way: 'lmtp', from, to, problem, raw });
    const isWanted = this.isOn() && to.some((address) => this.ownAddresses.has(address));
    if (!isWanted) return note('It was dropped, as set in the settings');
    try {
      await this.inbox.take(raw, { at: this.clock.now(), returnPath: from, isCut });
    } catch (error) {
      if (!(error instanceof UnreadableMail)) throw error;
      // It would be no other the next time.
      note(error.message);
    }
  }
}

/** A mail as it comes; of one that is larger than is read, its beginning. */
async function received(stream: SMTPServerDataStream): Promise<{ raw: Buffer; isCut: boolean }> {
  const chunks: Buffer[] = [];
  let length = 0;
  for await (const chunk of stream as AsyncIterable<Buffer>) {
    length += chunk.length;
    if (length <= MAX_MAIL_BYTES) chunks.push(chunk);
  }
  const isCut = length > MAX_MAIL_BYTES;
  return { raw: Buffer.concat(chunks).subarray(0, isCut ? BEGINNING_BYTES : undefined), isCut };
}

type Callback = (error?: Error | null) => void;

function fromOf({ mailFrom }: SMTPServerSession['envelope']): string {
  return mailFrom ? mailFrom.address : '';
}
