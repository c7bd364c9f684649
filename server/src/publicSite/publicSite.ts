import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { Inject, Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { clientOf, isInNetwork, parsePublicPath, type PublicKind } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { ConnectionLimits } from './connectionLimits.js';
import type { PublicHit } from './arrival.js';
import type { HitOutcome } from './hitWriter.js';
import { JudgingSettings } from './judging.settings.js';
import { OptOuts } from './optOuts.js';
import { OWN_DEVICE_COOKIE, OwnBrowsers } from './ownBrowsers.js';
import { askOptOut, askToAllow, optedOut } from './optOutPages.js';
import { PAGE_HEADERS, plain, plainEnglish } from './publicPages.js';
import { Recorder, TooBusyError } from './recorder.js';

/** A transparent GIF of one pixel. */
const IMAGE = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

const IMAGE_HEADERS = {
  'Content-Type': 'image/gif',
  'Content-Length': IMAGE.length,
  // RFC 9111, section 5.2.2.5: each open is to reach us; the two below for caches that know no better.
  'Cache-Control': 'no-store, no-cache, must-revalidate, private, max-age=0',
  Pragma: 'no-cache',
  Expires: '0',
  'Cross-Origin-Resource-Policy': 'cross-origin',
  'X-Content-Type-Options': 'nosniff',
};

/** As long as browsers keep a cookie at most. */
const OWN_DEVICE_COOKIE_SECONDS = 400 * 24 * 60 * 60;

/** No sensible value is longer. */
const MAX_PURPOSE_CHARS = 100;

/** Slow clients do not hold a connection for long, and what they send is bounded. */
const TIMES_AND_SIZES = {
  maxHeaderSize: 16_384,
  headersTimeout: 10_000,
  // The whole request, its body included: what is taken here is a few kilobytes.
  requestTimeout: 10_000,
  connectionsCheckingInterval: 2000,
};
const MAX_PUBLIC_CONNECTIONS = 2000;

/** Somebody on the public site: what they ask for, and what is known of them. */
export interface Visit {
  request: IncomingMessage;
  response: ServerResponse;
  kind: PublicKind;
  token: string;
  /** All of a hit but what it is taken for. */
  facts: Omit<PublicHit, 'target' | 'token'>;
}

/** What answers some of the public site’s addresses. Whatever it throws is answered as our mistake. */
export interface PublicRoute {
  /** What it answers, and by which methods. */
  kinds: Partial<Record<PublicKind, readonly string[]>>;
  respond(visit: Visit): Promise<void>;
}

const READING = ['GET', 'HEAD', 'OPTIONS'];

/**
 * The public site: image, redirect, and what others add to it. It stands directly on Node's own HTTP server, since it
 * does two things very often and nothing for a browser to log in to.
 */
@Injectable()
export class PublicSite implements BeforeApplicationShutdown {
  private readonly logger = new Logger(PublicSite.name);
  private readonly routes: PublicRoute[] = [];
  private server: Server | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly recorder: Recorder,
    private readonly optOuts: OptOuts,
    private readonly ownBrowsers: OwnBrowsers,
    private readonly settings: JudgingSettings,
    private readonly clock: Clock,
  ) {}

  /** Lets a room answer what it knows. */
  add(room: PublicRoute): void {
    this.routes.push(room);
  }

  /** Opens the public site. Resolves to the port it listens on. */
  async open(): Promise<number> {
    await this.recorder.open();
    const limits = new ConnectionLimits((address) => isInNetwork(plainIp(address), this.settings.proxies()));
    const server = createServer(TIMES_AND_SIZES, (request, response) => {
      if (!limits.enter(request, response)) return;
      this.respond(request, response).catch((error: unknown) => {
        this.logger.error(`${request.method} ${request.url}`, error instanceof Error ? error.stack : String(error));
        if (!response.headersSent) response.writeHead(500);
        response.end();
      });
    });
    server.maxConnections = MAX_PUBLIC_CONNECTIONS;
    server.on('connection', (socket) => limits.admit(socket));
    this.server = server;
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(this.config.publicPort, this.config.publicHost, resolve);
    });
    return (server.address() as AddressInfo).port;
  }

  /** No new visitors; those inside are answered first. */
  async beforeApplicationShutdown(): Promise<void> {
    const server = this.server;
    if (!server) return;
    await new Promise((resolve) => {
      server.close(resolve);
      server.closeIdleConnections();
    });
  }

  private async respond(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const path = request.url!.split('?', 1)[0]!;
    const named = parsePublicPath(path);
    if (named?.kind === 'optOut') return this.optOut(request, response, named.token);
    const room = named && this.routes.find(({ kinds }) => named.kind in kinds);
    const methods = (room && room.kinds[named.kind]) ?? READING;
    if (!methods.includes(request.method!)) return plainEnglish(response, 405, 'Only reading is possible here.');
    if (path === '/health') return json(response, { status: 'ok' });
    if (!named) return plain(response, 404, 'nothingHere');
    if (room) return room.respond({ request, response, ...named, facts: this.facts(request) });
    if (named.kind === 'ownBrowser') {
      // Not used up by a program that only asks whether there is something.
      return request.method === 'GET'
        ? this.markOwn(response, named.token)
        : plainEnglish(response, 405, 'Only a visit counts here.');
    }
    const kind = named.kind as 'image' | 'link';
    const outcome = await this.outcome(request, kind, named.token);
    if (request.method === 'OPTIONS') return void response.writeHead(204, { Allow: READING.join(', ') }).end();
    if (kind === 'image') return outcome ? image(response) : plainEnglish(response, 503, 'Too busy. Try again.');
    if (!outcome?.url) return plain(response, 404, 'unknownLink');
    redirect(response, outcome.url);
  }

  /** A page that asks, and declines only at the press of its button: mail filters follow links, and press nothing. */
  private optOut(request: IncomingMessage, response: ServerResponse, token: string): void {
    request.resume();
    const query = request.url!.split('?', 2)[1] ?? '';
    const act = request.method !== 'POST' ? 'view' : query === 'again' ? 'allow' : 'decline';
    const view = this.optOuts[act](token);
    if (!view) return plain(response, 404, 'unknownLink');
    if (!view.hasOptedOut) return askOptOut(response, view);
    if (query === 'back') return askToAllow(response, view);
    optedOut(response, view);
  }

  /** The one cookie of the public site, for the one browser that came with an invitation from the desk. */
  private markOwn(response: ServerResponse, token: string): void {
    const mark = this.ownBrowsers.accept(token);
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

  /**
   * Records the hit and says where it leads. A link must lead to its end even where the hit could not be recorded; that
   * is logged.
   */
  private async outcome(request: IncomingMessage, target: 'image' | 'link', token: string): Promise<HitOutcome | null> {
    try {
      return await this.recorder.record({ target, token, ...this.facts(request) });
    } catch (error) {
      if (error instanceof TooBusyError) this.logger.warn('Too many hits at once: one was not recorded');
      return target === 'image' ? null : this.recorder.check(target, token);
    }
  }

  private facts(request: IncomingMessage): Visit['facts'] {
    const { headers } = request;
    return {
      at: this.clock.now(),
      ip: this.client(request),
      method: request.method!,
      userAgent: headers['user-agent'] ?? '',
      purpose: String(headers['sec-purpose'] ?? headers['purpose'] ?? '').slice(0, MAX_PURPOSE_CHARS),
      ownDevice: this.ownBrowsers.isMarked(headers.cookie),
      dnt: headers['dnt'] === '1' || headers['sec-gpc'] === '1',
    };
  }

  private client({ socket, headers }: IncomingMessage): string {
    const remote = plainIp(socket.remoteAddress ?? '');
    const xForwardedFor = [headers['x-forwarded-for'] ?? []].flat().join(',');
    return clientOf(remote, { forwarded: headers['forwarded'], xForwardedFor }, this.settings.proxies());
  }
}

/** An IPv4 client of a dual-stack socket shows as an IPv4-mapped address (RFC 4291, section 2.5.5.2). */
function plainIp(address: string): string {
  return address.replace(/^::ffff:(?=\d+\.)/i, '');
}

function image(response: ServerResponse): void {
  response.writeHead(200, IMAGE_HEADERS).end(IMAGE);
}

function redirect(response: ServerResponse, url: string): void {
  response.writeHead(302, { ...PAGE_HEADERS, Location: url, 'Content-Length': 0 }).end();
}

function json(response: ServerResponse, body: object): void {
  response
    .writeHead(200, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' })
    .end(JSON.stringify(body));
}
