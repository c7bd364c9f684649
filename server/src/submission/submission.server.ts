import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import type { SMTPServer, SMTPServerAddress, SMTPServerDataStream, SMTPServerSession } from 'smtp-server';
import { addressKey, MESSAGE_LIMITS } from '@kiraku/core/message';
import { networkOf } from '@kiraku/core/tracking';
import { CONFIG, type Config } from '../environment/config.js';
import type { DsnOfRecipient, SubmittedEnvelope } from '@kiraku/core/delivery';
import { RefusedService } from '../refused/refused.service.js';
import { AccountService } from '../settings/account.service.js';
import { TlsFiles } from '../tls/tlsFiles.js';
import { AppPasswords } from './appPasswords.service.js';
import { identityOf, readOrMakeIdentity, type Identity } from './certificate.js';
import { addressProblem } from '@kiraku/core/message';
import { Refusal } from './refusal.js';
import { Senders } from './senders.js';
import { SubmissionService } from './submission.service.js';
import { TlsFirstServer } from './tlsFirstServer.js';

/** Announced with EHLO (RFC 1870); a mail program is told before it sends more. */
const MAX_SUBMITTED_BYTES = 50 * 1024 * 1024;
const MAX_SUBMISSION_CONNECTIONS = 50;
const ATTEMPTS = { points: 10, duration: 60 };
/** A certificate that was renewed is taken up so soon. */
const IDENTITY_CHECK_MS = 5000;

type Callback = (error?: Error | null) => void;

/** Where other mail programs hand their mail in (RFC 6409): encrypted, and for the owner only. */
@Injectable()
export class SubmissionServer implements BeforeApplicationShutdown {
  private readonly logger = new Logger(SubmissionServer.name);
  private readonly attempts = new RateLimiterMemory(ATTEMPTS);
  private readonly servers: SMTPServer[] = [];
  private timer: NodeJS.Timeout | undefined;
  private takenUpAt = 0;
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
    private readonly tls: TlsFiles,
  ) {}

  /** Opens the ports. One that is taken is logged, and the desk works without. */
  async open(): Promise<void> {
    const identity = await this.identity();
    const { submissionPort, submissionTlsPort } = this.config;
    this.port = await this.listen(this.serverWith(identity, false), submissionPort);
    if (submissionTlsPort !== null) await this.listen(this.serverWith(identity, true), submissionTlsPort);
    this.timer = setInterval(() => void this.takeUp(), IDENTITY_CHECK_MS).unref();
  }

  /** The certificate of the public site where there is one, since programs know whom to trust with it; else one of our own. */
  private async identity(): Promise<Identity> {
    const identity = this.publicIdentity() ?? (await readOrMakeIdentity(this.config.dataDir));
    this.fingerprint = identity.fingerprint;
    return identity;
  }

  private publicIdentity(): Identity | null {
    if (!this.config.tls) return null;
    this.takenUpAt = this.tls.changedAt();
    try {
      const certificate = this.tls.read();
      return certificate && identityOf(certificate);
    } catch (error) {
      this.logger.error(`The certificate of the public address cannot be used: ${String(error)}`);
      return null;
    }
  }

  private async takeUp(): Promise<void> {
    if (!this.config.tls || this.tls.changedAt() === this.takenUpAt) return;
    const { cert, key } = await this.identity();
    for (const server of this.servers) server.updateSecureContext({ cert, key });
  }

  /** @param secure whether it is encrypted from the start, and not by STARTTLS */
  private serverWith({ cert, key }: Identity, secure: boolean): SMTPServer {
    const server = new TlsFirstServer({
      cert,
      key,
      secure,
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
    return server;
  }

  /** Resolves to the port it listens on; 0 where that could not be had. */
  private listen(server: SMTPServer, port: number): Promise<number> {
    return new Promise((resolve) => {
      server.server.once('error', (error: Error) => {
        this.logger.warn(`Mail programs cannot hand mail in: ${error.message}`);
        resolve(0);
      });
      server.listen(port, this.config.submissionHost, () => {
        this.servers.push(server);
        resolve((server.server.address() as { port: number }).port);
      });
    });
  }

  async beforeApplicationShutdown(): Promise<void> {
    clearInterval(this.timer);
    const closed = this.servers.map((server) => new Promise<void>((resolve) => server.close(resolve)));
    await Promise.all(this.taking);
    await Promise.all(closed);
  }

  private async signIn(user: string, password: string, from: string): Promise<void> {
    // By address alone: 120 random bits are guessed by nobody, and a limit for all would let anybody stop the owner's mail.
    await this.attempts.consume(networkOf(from)).catch(() => {
      throw new Refusal(454, '4.7.0', 'Too many attempts. Wait a minute.');
    });
    const own = this.accounts.view()?.address;
    if (!own || addressKey(user) !== addressKey(own) || !this.passwords.use(password))
      throw new Refusal(535, '5.7.8', 'This is not a user and app password of Kiraku. Create one in its settings.');
    await this.attempts.delete(networkOf(from));
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
