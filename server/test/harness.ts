import { cpSync, existsSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { INestApplication } from '@nestjs/common';
import type { OpenAPIObject } from '@nestjs/swagger';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer, type SMTPServerOptions } from 'smtp-server';
import type { Draft, DraftContent, EventView, MessageDetail, MessageSummary, Recipient } from '@kiraku/core/contract';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { createApp, openApp } from '@kiraku/server/app';
import { Clock } from '@kiraku/server/environment/clock';
import { apiDocument } from '@kiraku/server/http/apiDocument';
import type { Config } from '@kiraku/server/environment/config';
import { SendingSettings } from '@kiraku/server/settings/sending.settings';
import { SessionService } from '@kiraku/server/session/session.service';
import { AccountService } from '@kiraku/server/settings/account.service';
import { AppPasswords } from '@kiraku/server/submission/appPasswords.service';
import { readOrMakeIdentity } from '@kiraku/server/submission/certificate';
import { PublicSite } from '@kiraku/server/publicSite/publicSite';
import { DATABASE, type Database } from '@kiraku/server/store/database';
import { Recorder } from '@kiraku/server/tracking/recorder';
import { holdToDocument } from './contract.js';
import { freePort } from './freePort.js';
import { until } from './until.js';

export const PASSPHRASE = 'a test passphrase';
export const APP_PASSWORD = 'a-test-app-password';
export const READER = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';

export const ACCOUNT = {
  name: 'Ines Valdaro',
  address: 'ines@tallowreed.example',
  smtpHost: '127.0.0.1',
  smtpPort: 9,
  smtpSecurity: 'none' as const,
  smtpUser: '',
};

/** A mail as the server on the other side got it. */
export interface ReceivedMail {
  from: string;
  to: string[];
  raw: Buffer;
  parsed: ParsedMail;
}

/** A clock that goes with the real time until it is stopped, and can be moved on. */
export class TestClock extends Clock {
  private aheadMs = 0;
  private stoppedAt: number | null = null;
  override now(): number {
    return (this.stoppedAt ?? Date.now()) + this.aheadMs;
  }
  /** For rules about seconds, which a slow machine would break. */
  stop(): void {
    this.stoppedAt = Date.now();
  }
  advance(ms: number): void {
    this.aheadMs += ms;
  }
}

/** A real SMTP server on loopback that keeps what it accepts. Refusals are scripted by recipient. */
export class MailServer {
  readonly received: ReceivedMail[] = [];
  /** Recipient → reply code and words, given at RCPT. */
  readonly refusals = new Map<string, { responseCode: number; message: string }>();
  private constructor(
    private readonly server: SMTPServer,
    readonly port: number,
  ) {}

  static async start(options: SMTPServerOptions = {}): Promise<MailServer> {
    const holder: { mail?: MailServer } = {};
    const server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS'],
      disableReverseLookup: true,
      // Delivery receipts (RFC 3461) are offered.
      hideDSN: false,
      lenientAddressParsing: true,
      closeTimeout: 200,
      onRcptTo: ({ address }, _session, callback) => {
        const refusal = holder.mail!.refusals.get(address);
        callback(refusal && Object.assign(new Error(refusal.message), refusal));
      },
      onData: (stream, session, callback) => {
        const chunks: Buffer[] = [];
        stream.on('data', (chunk: Buffer) => chunks.push(chunk));
        stream.on('end', async () => {
          const raw = Buffer.concat(chunks);
          const { mailFrom, rcptTo } = session.envelope;
          holder.mail!.received.push({
            from: mailFrom ? mailFrom.address : '',
            to: rcptTo.map((one) => one.address),
            raw,
            parsed: await simpleParser(raw),
          });
          callback();
        });
      },
      ...options,
    });
    server.on('error', () => undefined);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    holder.mail = new MailServer(server, (server.server.address() as AddressInfo).port);
    return holder.mail;
  }

  to(address: string): ReceivedMail {
    const found = this.received.find((mail) => mail.to.includes(address));
    if (!found) throw new Error(`Nothing was received for ${address}`);
    return found;
  }

  stop(): Promise<void> {
    return new Promise((resolve) => this.server.close(() => resolve()));
  }
}

/** The whole application on a data folder of its own, with both doors open on free ports. */
export class Desk {
  readonly clock = new TestClock();
  publicSite!: PublicSite;
  /** What the public site has reported to whoever runs it. */
  readonly problems: string[] = [];
  private token = '';
  private constructor(
    readonly config: Config,
    private app: INestApplication,
  ) {}

  /**
   * @param change of the configuration, from the first start on
   * @param from the data folder to begin with a copy of
   */
  static async start(mailPort = 9, change: Partial<Config> = {}, from?: string): Promise<Desk> {
    const dataDir = scratch();
    cpSync(from ?? (await (setUpOnce ??= setUp())), dataDir, { recursive: true });
    const desk = new Desk({ ...(await loopback(dataDir)), ...change }, undefined as never);
    await desk.open();
    desk.get(AccountService).save({ ...ACCOUNT, smtpPort: mailPort });
    return desk;
  }

  async open(): Promise<void> {
    this.app = await createApp(this.config, this.clock);
    holdToDocument(this.url, () => documentOf(this.app));
    await openApp(this.app, this.config);
    await this.openPublicSite();
    // By the time of a response it is known that connections that were kept to the server before have ended.
    await fetch(`${this.url}/health`).catch(() => undefined);
  }

  async openPublicSite(): Promise<void> {
    const problem = (what: string, error: unknown) => void this.problems.push(`${what}: ${String(error)}`);
    this.publicSite = new PublicSite(this.config, this.clock, { problem, notRecorded: () => undefined });
    await this.publicSite.open();
  }

  async close(): Promise<void> {
    await this.publicSite.close();
    await this.app.close();
  }

  async stop(): Promise<void> {
    await this.close();
    for (const folder of [this.config.dataDir, this.config.backupDir]) rmSync(folder, { recursive: true, force: true });
  }

  get<T>(service: abstract new (...args: never[]) => T): T {
    return this.app.get(service as never);
  }

  get sqlite(): Database['$client'] {
    return this.app.get<Database>(DATABASE).$client;
  }

  get url(): string {
    return `http://127.0.0.1:${this.config.port}`;
  }

  /** What a signed-in request names itself by; somebody who was away for long signs in again. */
  get headers(): Record<string, string> {
    const sessions = this.get(SessionService);
    if (!sessions.isOpen(this.token)) this.token = sessions.open();
    return { cookie: `kiraku_session=${this.token}` };
  }

  /** A signed-in request. */
  async call(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
    const request = () =>
      fetch(this.url + path, {
        method,
        headers: {
          ...this.headers,
          ...(body === undefined ? {} : { 'content-type': 'application/json' }),
          ...headers,
        },
        body: body === undefined ? undefined : JSON.stringify(body),
      });
    // A kept connection may belong to the server before a restart.
    return request().catch((error: unknown) => (method === 'GET' ? request() : Promise.reject(error)));
  }

  async json<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await this.call(method, path, body);
    if (!response.ok) throw new Error(`${method} ${path}: ${response.status} ${await response.text()}`);
    return response.json() as Promise<T>;
  }

  async send(content: Partial<DraftContent>): Promise<MessageSummary> {
    const draft = await this.json<Draft>('POST', '/api/drafts', draftContent(content));
    return this.json('POST', `/api/drafts/${draft.id}/send`, { revision: draft.revision });
  }

  detail(id: number): Promise<MessageDetail> {
    return this.json('GET', `/api/messages/${id}`);
  }

  /** Waits until a message reads as it should. */
  async until(id: number, is: (detail: MessageDetail) => boolean, withinMs = 60_000): Promise<MessageDetail> {
    let detail = await this.detail(id);
    const holds = async () => is((detail = await this.detail(id)));
    await until(holds, { withinMs, more: () => JSON.stringify(detail.summary) });
    return detail;
  }

  sent(id: number): Promise<MessageDetail> {
    return this.until(id, (detail) => detail.summary.state !== 'queued');
  }

  /** A visit at the public site as a reader's program makes it; recorded when this resolves. */
  async visit(url: string, init: RequestInit = {}): Promise<Response> {
    const response = await fetch(url, {
      redirect: 'manual',
      ...init,
      headers: { 'user-agent': READER, ...init.headers },
    });
    await this.caughtUp();
    return response;
  }

  /** Resolves when what has happened at the public site is recorded. */
  caughtUp(): Promise<void> {
    return this.get(Recorder).caughtUp();
  }
}

/** The desk of a file's tests, and the mail server by which it sends. */
export let desk: Desk;
export let mail: MailServer;

/**
 * Has both for all tests of a file, or anew for each.
 *
 * @param prepare what each test begins with: done once, and copied
 */
export function useDesk(per: 'all' | 'each', prepare?: () => Promise<unknown>): void {
  let prepared: string | undefined;
  const begin = async () => {
    mail = await MailServer.start();
    desk = await Desk.start(mail.port, {}, prepared);
  };
  const end = async () => {
    await desk.stop();
    await mail.stop();
  };
  if (prepare)
    beforeAll(async () => {
      await begin();
      await prepare();
      await desk.close();
      await mail.stop();
      prepared = desk.config.dataDir;
    });
  const [before, after] = per === 'all' ? [beforeAll, afterAll] : [beforeEach, afterEach];
  before(begin);
  after(end);
  afterAll(() => prepared && rmSync(prepared, { recursive: true, force: true }));
}

/**
 * A data folder that is set up, to be copied. Choosing a passphrase takes long on purpose, and so does making a key: the
 * first file of tests to need it leaves it for all others.
 */
let setUpOnce: Promise<string> | undefined;

async function setUp(): Promise<string> {
  const shared = join(process.env['KIRAKU_TESTS']!, 'set-up');
  if (existsSync(shared)) return shared;
  const config = await loopback(scratch());
  const app = await createApp(config);
  app.get(SendingSettings).save({ undoSendSeconds: 0 });
  await app.get(SessionService).choosePassphrase(PASSPHRASE);
  app.get(AccountService).save(ACCOUNT);
  app.get(AppPasswords).add('tests', APP_PASSWORD);
  await readOrMakeIdentity(config.dataDir);
  await app.close();
  try {
    renameSync(config.dataDir, shared);
    return shared;
  } catch {
    // Another was faster; this one is as good.
    return config.dataDir;
  }
}

/** The document of all routes, which is the same in every file of tests: the first one leaves it for all others. */
function documentOf(app: INestApplication): OpenAPIObject {
  const shared = join(process.env['KIRAKU_TESTS']!, 'openapi.json');
  if (existsSync(shared)) return JSON.parse(readFileSync(shared, 'utf8')) as OpenAPIObject;
  const document = apiDocument(app);
  const own = `${shared}.${process.pid}`;
  writeFileSync(own, JSON.stringify(document));
  renameSync(own, shared);
  return document;
}

const scratch = () => mkdtempSync(join(tmpdir(), 'kiraku-test-'));

async function loopback(dataDir: string): Promise<Config> {
  const publicPort = await freePort();
  return {
    dataDir,
    backupDir: `${dataDir}-backup`,
    backupCommand: null,
    logFile: null,
    host: '127.0.0.1',
    port: await freePort(),
    publicHost: '127.0.0.1',
    publicPort,
    submissionHost: '127.0.0.1',
    submissionPort: await freePort(),
    submissionTlsPort: null,
    lmtpHost: '127.0.0.1',
    lmtpPort: await freePort(),
    deskUrls: [],
    deskProxies: [],
    tls: null,
    isDemo: true,
    publicUrl: `http://127.0.0.1:${publicPort}`,
  };
}

export function draftContent(content: Partial<DraftContent> = {}): DraftContent {
  return {
    ...BLANK_CONTENT,
    recipients: [to('marit@lindqvist.example', 'Marit Oakes')],
    subject: 'Panels for the reading room',
    html: '<p>Dear Marit,</p><p>here is <a href="https://tallowreed.example/proposal?a=1&amp;b=2">the proposal</a>.</p>',
    ...content,
  };
}

export function to(address: string, name = '', kind: Recipient['kind'] = 'to'): Recipient {
  return { kind, name, address };
}

/** The tracking image and the redirects of a received mail. */
export function trackingUrlsOf(mail: ReceivedMail): { image: string | undefined; links: string[] } {
  const html = String(mail.parsed.html);
  const image = /<img src="(http[^"]+\/i\/[^"]+)"/.exec(html)?.[1];
  return { image, links: [...html.matchAll(/<a href="(http[^"]+\/l\/[^"]+)"/g)].map((match) => match[1]!) };
}

export function kinds(events: EventView[]): string[] {
  return events.map((event) => `${event.kind}${event.counted ? '' : ` (${event.reason})`}`);
}
