import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import { addressKey } from '@kiraku/core/message';
import { Clock } from '../clock.js';
import { CONFIG, type Config } from '../config.js';
import { AccountService } from '../settings/account.service.js';
import { SubmissionSettings } from '../submission/submission.settings.js';
import { InboxService } from './inbox.service.js';
import { MailboxSettings } from './mailbox.settings.js';

const MOST_BYTES = 50 * 1024 * 1024;
const MOST_CONNECTIONS = 20;

/** What a mail server is told (RFC 5321, section 4.2; RFC 3463). */
function reply(responseCode: number, words: string): Error {
  return Object.assign(new Error(words), { responseCode });
}

/**
 * Where a mail server may bring what comes in for the user (LMTP, RFC 2033), for the user’s own addresses
 * alone. It says “250” once what follows from a mail is durable; mail that is about nothing of ours is let go.
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
    private readonly accounts: AccountService,
    private readonly submission: SubmissionSettings,
    private readonly settings: MailboxSettings,
    private readonly inbox: InboxService,
    private readonly clock: Clock,
  ) {}

  /** Resolves when it listens, or cannot: the desk works without it. */
  async open(): Promise<void> {
    const server = new SMTPServer({
      ...{ lmtp: true, banner: 'Kiraku', authOptional: true, disabledCommands: ['AUTH', 'STARTTLS'] },
      ...{ disableReverseLookup: true, size: MOST_BYTES, maxClients: MOST_CONNECTIONS, closeTimeout: 1000 },
      onMailFrom: (_address, _session, callback) =>
        callback(
          this.settings.view().way === 'lmtp' ? null : reply(550, '5.7.1 Kiraku takes no mail: see its settings'),
        ),
      onRcptTo: ({ address }, _session, callback) =>
        callback(
          this.isOwn(address) ? null : reply(550, `5.1.1 Kiraku takes mail for its user only, not for ${address}`),
        ),
      onData: (stream, session, callback) => {
        const done = this.take(stream, session).then(
          () => callback(),
          (error: Error & { responseCode?: number }) => {
            if (!error.responseCode) this.logger.error('A mail could not be taken in', error.stack);
            callback(error.responseCode ? error : reply(451, '4.3.0 Kiraku could not keep it. Try again later'));
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
        this.logger.warn(`Mail servers cannot bring answers: ${error.message}`);
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

  private async take(stream: SMTPServerDataStream, { envelope }: SMTPServerSession): Promise<void> {
    const chunks: Buffer[] = [];
    for await (const chunk of stream as AsyncIterable<Buffer>) if (!stream.sizeExceeded) chunks.push(chunk);
    if (stream.sizeExceeded) throw reply(552, '5.3.4 Too large');
    const { mailFrom } = envelope;
    await this.inbox.take(Buffer.concat(chunks), {
      at: this.clock.now(),
      returnPath: mailFrom ? mailFrom.address : '',
    });
  }

  private isOwn(address: string): boolean {
    const own = this.accounts.view()?.address;
    return own !== undefined && [own, ...this.submission.addresses()].map(addressKey).includes(addressKey(address));
  }
}
