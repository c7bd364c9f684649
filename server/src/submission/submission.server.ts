import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type { SMTPServer, SMTPServerAddress, SMTPServerDataStream, SMTPServerSession } from 'smtp-server';
import { addressKey, MESSAGE_LIMITS } from '@kiraku/core/message';
import { CONFIG, type Config } from '../environment/config.js';
import type { DsnOfRecipient, SubmittedEnvelope } from '@kiraku/core/delivery';
import { RefusedService } from '../refused/refused.service.js';
import { AccountService } from '../settings/account.service.js';
import { AppPasswords } from './appPasswords.service.js';
import { readOrMakeIdentity } from './certificate.js';
import { addressProblem } from '@kiraku/core/message';
import { Refusal } from './refusal.js';
import { Senders } from './senders.js';
import { SubmissionService } from './submission.service.js';
import { TlsFirstServer } from './tlsFirstServer.js';

/** Announced with EHLO (RFC 1870); a mail program is told before it sends more. */
const MAX_SUBMITTED_BYTES = 50 * 1024 * 1024;
const MAX_SUBMISSION_CONNECTIONS = 50;
const ATTEMPTS = { points: 10, duration: 60 };

type Callback = (error?: Error | null) => void;

/** Where other mail programs hand their mail in (RFC 6409): encrypted by STARTTLS, and for the owner only. */
@Injectable()
export class SubmissionServer implements BeforeApplicationShutdown {
  private readonly logger = new Logger(SubmissionServer.name);
  private readonly attempts = new RateLimiterMemory(ATTEMPTS);
  private server: SMTPServer | undefined;
  /** What is being taken: a stop waits for it. */
  private readonly taking = new Set<Promise<void>>();
  /** The port it listens on; 0 as long as it does not. */
  port = 0;
  fingerprint = '';

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly senders: Senders,
    private readonly submission: SubmissionService,
    private readonly passwords: AppPasswords,
    private readonly accounts: AccountService,
    private readonly refused: RefusedService,
  ) {}

  /** Opens the port. One that is taken is logged, and the desk works without. */
  async open(): Promise<void> {
    const { cert, key, fingerprint } = await readOrMakeIdentity(this.config.dataDir);
    const server = new TlsFirstServer({
      cert,
      key,
      banner: 'Kiraku',
      size: MAX_SUBMITTED_BYTES,
      maxClients: MAX_SUBMISSION_CONNECTIONS,
      authMethods: ['PLAIN', 'LOGIN'],
      // Delivery reports are offered (RFC 3461): what is asked for goes on to the mail server.
      hideDSN: false,
      // What an address may be is decided here: quoted local parts (RFC 5321, section 4.1.2) are some.
      lenientAddressParsing: true,
      disableReverseLookup: true,
      closeTimeout: 1000,
      logger: false,
      onAuth: ({ username, password }, session, callback) =>
        void this.signIn(username ?? '', password ?? '', session.remoteAddress ?? '').then(
          () => callback(null, { user: username }),
          (error: Error) => callback(error),
        ),
      onMailFrom: ({ address }, _session, callback) =>
        this.replied(callback, address, [], () => this.senders.check(address)),
      onRcptTo: ({ address }, session, callback) =>
        this.replied(callback, fromOf(session.envelope), [address], () => {
          if (session.envelope.rcptTo.length >= MESSAGE_LIMITS.maxRecipients)
            throw new Refusal(452, '4.5.3', `At most ${MESSAGE_LIMITS.maxRecipients} recipients at a time.`);
          const problem = addressProblem(address);
          if (problem) throw new Refusal(553, '5.1.3', problem);
        }),
      onData: (stream, session, callback) => this.take(stream, session, callback),
    });
    server.on('error', (error) => this.logger.warn(`A mail program: ${error.message}`));
    this.server = server;
    this.fingerprint = fingerprint;
    await new Promise<void>((resolve) => {
      server.server.once('error', (error: Error) => {
        this.logger.warn(`Mail programs cannot hand mail in: ${error.message}`);
        resolve();
      });
      server.listen(this.config.submissionPort, this.config.host, () => {
        this.port = (server.server.address() as { port: number }).port;
        resolve();
      });
    });
  }

  async beforeApplicationShutdown(): Promise<void> {
    const server = this.server;
    if (!server || this.port === 0) return;
    const closed = new Promise<void>((resolve) => server.close(resolve));
    await Promise.all(this.taking);
    await closed;
  }

  private async signIn(user: string, password: string, from: string): Promise<void> {
    await this.attempts.consume(from).catch(() => {
      throw new Refusal(454, '4.7.0', 'Too many attempts. Wait a minute.');
    });
    const own = this.accounts.view()?.address;
    if (!own || addressKey(user) !== addressKey(own) || !this.passwords.use(password))
      throw new Refusal(535, '5.7.8', 'This is not a user and app password of Kiraku. Create one in its settings.');
    await this.attempts.delete(from);
  }

  private take(stream: SMTPServerDataStream, session: SMTPServerSession, callback: Callback): void {
    const done = this.receive(stream, session).then(
      () => callback(),
      (error: Error) => {
        if (!(error instanceof Refusal)) this.logger.error('A mail could not be taken', error.stack);
        callback(
          error instanceof Refusal ? error : new Refusal(451, '4.3.0', 'Kiraku could not store it. Try again later.'),
        );
      },
    );
    this.taking.add(done);
    void done.finally(() => this.taking.delete(done));
  }

  private async receive(stream: SMTPServerDataStream, { envelope }: SMTPServerSession): Promise<void> {
    const chunks: Buffer[] = [];
    let length = 0;
    for await (const chunk of stream as AsyncIterable<Buffer>) {
      length += chunk.length;
      // The rest of one that is too large is read and discarded.
      if (length <= MAX_SUBMITTED_BYTES) chunks.push(chunk);
    }
    const raw = Buffer.concat(chunks);
    const [from, to] = [fromOf(envelope), envelope.rcptTo.map(recipientOf)];
    const addresses = to.map(({ address }) => address);
    const isTooLarge = stream.sizeExceeded || length > MAX_SUBMITTED_BYTES;
    try {
      if (isTooLarge)
        throw new Refusal(552, '5.3.4', `A message can have at most ${MAX_SUBMITTED_BYTES / 1024 / 1024} MB.`);
      const { ret, envid } = envelope.dsn ?? {};
      const dsnRequest = { ...(ret && { ret: ret as 'FULL' | 'HDRS' }), ...(envid && { envid }) };
      await this.submission.take(raw, { from, to, ...dsnRequest });
    } catch (error) {
      const problem = error instanceof Refusal ? error.words : 'It could not be stored. It may come again by itself.';
      this.refused.note({ way: 'submission', from, to: addresses, problem, raw: isTooLarge ? null : raw });
      throw error;
    }
  }

  private replied(callback: Callback, from: string, to: string[], check: () => void): void {
    try {
      check();
      callback();
    } catch (error) {
      const problem = error instanceof Refusal ? error.words : String(error);
      this.refused.note({ way: 'submission', from, to, problem, raw: null });
      callback(error as Error);
    }
  }
}

function fromOf({ mailFrom }: SMTPServerSession['envelope']): string {
  return mailFrom ? mailFrom.address : '';
}

/** A recipient, with what is asked of the delivery reports for them. */
function recipientOf({ address, dsn }: SMTPServerAddress & { dsn?: DsnOfRecipient }): SubmittedEnvelope['to'][number] {
  return dsn ? { address, dsn } : { address };
}
