import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo, Socket } from 'node:net';
import QuickLRU from 'quick-lru';
import { clientOf, isInNetwork, parsePublicPath } from '@kiraku/core/tracking';
import type { NotRecordedView } from '@kiraku/core/contract';
import type { Clock } from '../environment/clock.js';
import { databaseFile, journalFolder, type Config } from '../environment/config.js';
import { Journal, TooBusyError } from '../journal/journal.js';
import { ContentStore } from '../files/contentStore.js';
import { Secrets } from '../settings/secrets.js';
import type { JournalEntry } from '../tracking/arrival.js';
import { publishedCalendar } from '../following/publishedCalendar.js';
import { findLink } from '../tracking/linkFile.js';
import { proofOf, type Reached } from '../tracking/reachCheck.js';
import { recipientOf, recordedOf } from '../tracking/optOutRecipients.repository.js';
import type { PublicSocket } from '../supervisor/messages.js';
import { Encryption } from './encryption.js';
import { TIMES_AND_SIZES } from './timesAndSizes.js';
import { calendar, image, json, READING, redirect } from './responses.js';
import { ConnectionLimits } from './connectionLimits.js';
import { askOptOut, askToAllow, optedOut, type OptOutView } from './optOutPages.js';
import { OWN_DEVICE_COOKIE, OwnBrowserMarks } from './ownBrowserMarks.js';
import { plain, plainEnglish } from './publicPages.js';
import { Snapshot, UnreadableError } from './snapshot.js';
import { Viewer } from './viewer.js';
import type { Visit } from './visit.js';

/** As long as browsers keep a cookie at most. */
const OWN_DEVICE_COOKIE_SECONDS = 400 * 24 * 60 * 60;

/** No sensible value is longer. */
const MAX_PURPOSE_CHARS = 100;
/** Recipients whose choice the desk may not have acted on yet. */
const MAX_RECENT_CHOICES = 1000;

const MAX_PUBLIC_CONNECTIONS = 2000;
/** So long those inside are waited for. */
const STOP_DEADLINE_MS = 10_000;

/** What the public site says to whoever runs it. */
export interface Reports {
  /** Something went wrong, and somebody should look at it. */
  problem(what: string, error: unknown): void;
  notRecorded(what: NotRecordedView): void;
}

/**
 * The public site: image, redirect, files and the page to opt out. It knows no framework, reads the database, and writes
 * nothing but its journal: what happened is answered when it is durable there, and judged by the desk.
 */
export class PublicSite {
  private readonly snapshot: Snapshot;
  private readonly journal: Journal<JournalEntry>;
  private readonly secrets: Secrets;
  private readonly marks: OwnBrowserMarks;
  private readonly viewer: Viewer;
  private readonly limits: ConnectionLimits;
  /** By the person: whether they declined, until the database says the same. */
  private readonly choices = new QuickLRU<number, boolean>({ maxSize: MAX_RECENT_CHOICES });
  private readonly encryption: Encryption | undefined;
  private readonly server: Server;
  private lostCount = 0;

  constructor(
    private readonly config: Config,
    private readonly clock: Clock,
    private readonly reports: Reports,
  ) {
    this.snapshot = new Snapshot(databaseFile(config), (error) =>
      reports.problem('The database cannot be read', error),
    );
    this.journal = new Journal(journalFolder(config));
    this.secrets = new Secrets(config);
    this.marks = new OwnBrowserMarks(this.secrets, clock);
    this.viewer = new Viewer(this, this.snapshot, new ContentStore(config), clock);
    this.limits = new ConnectionLimits((address) => isInNetwork(plainIp(address), this.snapshot.proxies()));
    const take = (request: IncomingMessage, response: ServerResponse) => this.take(request, response);
    this.encryption = config.tls ? new Encryption(config, this.secrets, take, reports) : undefined;
    this.server = this.encryption?.server ?? createServer(TIMES_AND_SIZES, take);
    for (const server of this.servers()) {
      server.maxConnections = MAX_PUBLIC_CONNECTIONS;
      server.on('connection', (socket: Socket) => this.limits.admit(socket));
    }
  }

  /**
   * Opens the public site. Resolves to the port it listens on.
   *
   * @param sockets those that are bound already, instead of the configured addresses
   */
  async open(sockets: Partial<Record<PublicSocket, object>> = {}): Promise<number> {
    const { publicPort, tls } = this.config;
    if (this.encryption) await this.listen(this.encryption.plainServer, tls!.plainPort, sockets.plain);
    await this.listen(this.server, publicPort, sockets.public);
    return (this.server.address() as AddressInfo).port;
  }

  private listen(server: Server, port: number, socket: object | undefined): Promise<void> {
    return new Promise((resolve, reject) => {
      server.once('error', reject);
      const listening = () => {
        server.off('error', reject);
        resolve();
      };
      if (socket) server.listen(socket, listening);
      else server.listen(port, this.config.publicHost, listening);
    });
  }

  private servers(): Server[] {
    return this.encryption ? [this.server, this.encryption.plainServer] : [this.server];
  }

  /** No new visitors; those inside are answered first. */
  async close(): Promise<void> {
    const servers = this.servers();
    const late = setTimeout(() => servers.forEach((server) => server.closeAllConnections()), STOP_DEADLINE_MS).unref();
    await Promise.all(
      servers.map((server) => {
        const closed = new Promise((resolve) => server.close(resolve));
        server.closeIdleConnections();
        return closed;
      }),
    );
    clearTimeout(late);
    this.encryption?.close();
    await this.journal.close();
    this.snapshot.close();
  }

  /**
   * Writes down what happened; what is given is called when it is durable, or is not to be. What could not be written is
   * counted.
   */
  record(entry: JournalEntry, then: (error: Error | null) => void): void {
    this.journal.append(entry, (error) => {
      if (error) this.lose(error);
      then(error);
    });
  }

  /** Whether somebody has declined, as far as this process knows better than the database. */
  hasDeclined(personId: number, inDatabase: boolean): boolean {
    const chosen = this.choices.get(personId);
    if (chosen === inDatabase) this.choices.delete(personId);
    return chosen ?? inDatabase;
  }

  private take(request: IncomingMessage, response: ServerResponse): void {
    if (!this.limits.enter(request, response)) return;
    try {
      this.respond(request, response)?.catch((error: unknown) => this.failed(request, response, error));
    } catch (error) {
      this.failed(request, response, error);
    }
  }

  private failed(request: IncomingMessage, response: ServerResponse, error: unknown): void {
    // Whoever breaks off is no problem of ours, and is to fill no log.
    if (request.socket.destroyed) return;
    const isUnreadable = error instanceof UnreadableError;
    if (!isUnreadable) this.reports.problem(`${request.method} ${request.url}`, error);
    if (response.headersSent) return void response.end();
    plainEnglish(response, isUnreadable ? 503 : 500, 'This is not possible at the moment. Please try again later.');
  }

  private respond(request: IncomingMessage, response: ServerResponse): Promise<void> | void {
    const path = request.url!.split('?', 1)[0]!;
    const named = parsePublicPath(path);
    if (named?.kind === 'optOut') return this.optOut(request, response, named.token);
    const methods = (named && this.viewer.methods(named.kind)) ?? READING;
    if (!methods.includes(request.method!)) return plainEnglish(response, 405, 'Only reading is possible here.');
    if (path === '/health') return this.health(request, response);
    if (!named) return plain(response, 404, 'nothingHere');
    const { kind, token } = named;
    if (kind === 'image') return this.image(request, response, token);
    if (kind === 'link') return this.link(request, response, token);
    if (kind === 'ownBrowser') {
      // Not used up by a program that only asks whether there is something.
      return request.method === 'GET'
        ? this.markOwn(response, token)
        : plainEnglish(response, 405, 'Only a visit counts here.');
    }
    if (kind === 'calendar') return this.calendar(response, token);
    return this.viewer.respond({ request, response, kind, token, facts: this.facts(request) });
  }

  /** Whoever asks with a question of the desk's gets to know that it is this public site, from any page. */
  private health(request: IncomingMessage, response: ServerResponse): void {
    const question = new URLSearchParams(request.url!.split('?')[1]).get('check');
    const proof = question === null ? null : proofOf(this.secrets, question);
    if (proof === null) return json(response, { status: 'ok' });
    response.setHeader('Access-Control-Allow-Origin', '*');
    const reached: Reached = { proof, unnamedProxy: this.unnamedProxy(request) };
    json(response, { status: 'ok', ...reached });
  }

  private unnamedProxy(request: IncomingMessage): string | null {
    const { headers, socket } = request;
    const isPassedOn = headers['forwarded'] !== undefined || headers['x-forwarded-for'] !== undefined;
    const remote = plainIp(socket.remoteAddress ?? '');
    return isPassedOn && !isInNetwork(remote, this.snapshot.proxies()) ? remote : null;
  }

  private image(request: IncomingMessage, response: ServerResponse, token: string): void {
    if (!this.isKnown(token)) return image(request, response);
    this.record({ target: 'image', token, ...this.facts(request) }, (error) => {
      if (error instanceof TooBusyError) plainEnglish(response, 503, 'Too busy. Try again.');
      else image(request, response);
    });
  }

  /** A link must lead to its end even where the hit could not be recorded, or the database be read. */
  private link(request: IncomingMessage, response: ServerResponse, token: string): void {
    const url = this.urlOf(token);
    if (url === null) return plain(response, 404, 'unknownLink');
    this.record({ target: 'link', token, ...this.facts(request) }, () => redirect(request, response, url));
  }

  /** The sender's own calendar: nobody else knows where it is, and whoever asks is not recorded. */
  private calendar(response: ServerResponse, key: string): void {
    const found = publishedCalendar(this.config.dataDir, key);
    if (found === null) return plain(response, 404, 'nothingHere');
    calendar(response, found);
  }

  /** What cannot be looked up is recorded: the desk leaves out what it does not know. */
  private isKnown(token: string): boolean {
    try {
      return this.snapshot.target('image', token) !== null;
    } catch (error) {
      if (error instanceof UnreadableError) return true;
      throw error;
    }
  }

  private urlOf(token: string): string | null {
    try {
      return this.snapshot.target('link', token)?.url ?? null;
    } catch (error) {
      if (!(error instanceof UnreadableError)) throw error;
      const url = findLink(this.config.dataDir, token);
      if (url === null) throw error;
      return url;
    }
  }

  /** A page that asks, and declines only at the press of its button: mail filters follow links, and press nothing. */
  private optOut(request: IncomingMessage, response: ServerResponse, token: string): void {
    request.resume();
    const query = request.url!.split('?', 2)[1] ?? '';
    const found = this.snapshot.read((database) => recipientOf(database, token));
    if (!found) return plain(response, 404, 'unknownLink');
    const { personId, optedOutAt, senderName, senderAddress, roundId } = found;
    const view: OptOutView = {
      hasOptedOut: this.hasDeclined(personId, optedOutAt !== null),
      sender: senderName || senderAddress,
      isOfRound: roundId !== null,
      recorded: this.snapshot.read((database) => recordedOf(database, personId)),
    };
    if (request.method !== 'POST') {
      const show = () => showOptOut(response, view, query);
      // What cannot be recorded is no reason to keep the page from anybody.
      if (request.method === 'GET') this.record({ target: 'optOutPage', token, ...this.facts(request) }, show);
      else show();
      return;
    }
    const hasOptedOut = query !== 'again';
    if (view.hasOptedOut === hasOptedOut) return showOptOut(response, view, '');
    const choice = hasOptedOut ? 'decline' : 'allow';
    this.record({ choice, token, at: this.clock.now() }, (error) => {
      if (error) return plainEnglish(response, 503, 'This could not be written down. Please try again.');
      this.choices.set(personId, hasOptedOut);
      showOptOut(response, { ...view, hasOptedOut }, '');
    });
  }

  /** The one cookie of the public site, for the one browser that came with an invitation from the desk. */
  private markOwn(response: ServerResponse, token: string): void {
    const mark = this.marks.accept(token, this.snapshot.invitations());
    if (mark === null)
      return plainEnglish(response, 404, 'This address was used already. Create another one in Kiraku.');
    const scope = this.config.publicUrl.startsWith('https:') ? 'SameSite=None; Secure' : 'SameSite=Lax';
    response.setHeader(
      'Set-Cookie',
      `${OWN_DEVICE_COOKIE}=${mark}; Path=/; Max-Age=${OWN_DEVICE_COOKIE_SECONDS}; HttpOnly; ${scope}`,
    );
    plainEnglish(
      response,
      200,
      'This browser is now known as yours: what you open in it is not counted. You can close this page.',
    );
  }

  private lose(error: Error): void {
    this.lostCount += 1;
    this.reports.notRecorded({ count: this.lostCount, lastAt: this.clock.now(), why: error.message });
  }

  private facts(request: IncomingMessage): Visit['facts'] {
    const { headers } = request;
    return {
      at: this.clock.now(),
      ip: this.client(request),
      method: request.method!,
      userAgent: headers['user-agent'] ?? '',
      purpose: String(headers['sec-purpose'] ?? headers['purpose'] ?? '').slice(0, MAX_PURPOSE_CHARS),
      ownDevice: this.marks.isMarked(headers.cookie),
      dnt: headers['dnt'] === '1' || headers['sec-gpc'] === '1',
    };
  }

  private client({ socket, headers }: IncomingMessage): string {
    const remote = plainIp(socket.remoteAddress ?? '');
    // Most come directly, and cost no question.
    if (headers['forwarded'] === undefined && headers['x-forwarded-for'] === undefined) return remote;
    const xForwardedFor = [headers['x-forwarded-for'] ?? []].flat().join(',');
    return clientOf(remote, { forwarded: headers['forwarded'], xForwardedFor }, this.snapshot.proxies());
  }
}

/** An IPv4 client of a dual-stack socket shows as an IPv4-mapped address (RFC 4291, section 2.5.5.2). */
function plainIp(address: string): string {
  return address.replace(/^::ffff:(?=\d+\.)/i, '');
}

function showOptOut(response: ServerResponse, view: OptOutView, query: string): void {
  if (!view.hasOptedOut) return askOptOut(response, view);
  if (query === 'back') return askToAllow(response, view);
  optedOut(response, view);
}
