import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { Socket } from 'node:net';
import { createServer as createTlsServer, type Server as TlsServer } from 'node:https';
import { deskNames, tlsNames, type Config } from '../environment/config.js';
import type { Secrets } from '../settings/secrets.js';
import { TlsFiles } from '../tls/tlsFiles.js';
import { passToDesk } from './deskProxy.js';
import { plainEnglish } from './publicPages.js';
import { TIMES_AND_SIZES } from './timesAndSizes.js';
import { TlsProofs } from './tlsProofs.js';

/** A certificate that was renewed is taken up so soon. */
const CERTIFICATE_CHECK_MS = 2000;
/** A file may be uploaded to the desk for as long. */
const MAX_DESK_REQUEST_MS = 60 * 60_000;
/** RFC 8555, section 8.3. */
const CHALLENGE_PATH = '/.well-known/acme-challenge/';

type Take = (request: IncomingMessage, response: ServerResponse) => void;

interface Problems {
  problem(what: string, error: unknown): void;
}

/**
 * The public site behind TLS of its own: a server with the certificate of the data folder, taken up whenever that changes, and
 * one without, which proves that the name leads here, and leads everybody else to the first. By its own names the desk is
 * reached through it.
 */
export class Encryption {
  readonly server: TlsServer;
  readonly plainServer: Server;
  private readonly files: TlsFiles;
  private readonly names: ReadonlySet<string>;
  private readonly deskNames: ReadonlySet<string>;
  private readonly timer: NodeJS.Timeout;
  private takenUpAt = 0;

  constructor(
    private readonly config: Config,
    secrets: Secrets,
    take: Take,
    private readonly reports: Problems,
  ) {
    this.files = new TlsFiles(config, secrets);
    this.names = new Set(tlsNames(config));
    this.deskNames = new Set(deskNames(config));
    const isDeskHere = this.deskNames.size > 0;
    const times = { ...TIMES_AND_SIZES, ...(isDeskHere && { requestTimeout: MAX_DESK_REQUEST_MS }) };
    this.server = createTlsServer({ ...times, minVersion: 'TLSv1.2' }, (request, response) =>
      this.deskNames.has(nameOf(request)) ? passToDesk(config, request, response) : take(request, response),
    );
    const [takeConnection] = this.server.listeners('connection') as [(socket: Socket) => void];
    this.server.off('connection', takeConnection);
    this.server.on('connection', new TlsProofs(this.files).before(takeConnection.bind(this.server)));
    this.plainServer = createServer(TIMES_AND_SIZES, (request, response) => this.plain(request, response));
    this.takeUp();
    this.timer = setInterval(() => this.takeUp(), CERTIFICATE_CHECK_MS).unref();
  }

  close(): void {
    clearInterval(this.timer);
  }

  /** What cannot be read leaves the certificate that is in use. */
  private takeUp(): void {
    const changedAt = this.files.changedAt();
    if (changedAt === this.takenUpAt) return;
    this.takenUpAt = changedAt;
    try {
      const certificate = this.files.read();
      if (certificate) this.server.setSecureContext({ ...certificate, minVersion: 'TLSv1.2' });
    } catch (error) {
      this.reports.problem('The certificate cannot be used', error);
    }
  }

  private plain(request: IncomingMessage, response: ServerResponse): void {
    const path = request.url!;
    const proof = path.startsWith(CHALLENGE_PATH) ? this.files.proof(path.slice(CHALLENGE_PATH.length)) : null;
    if (proof !== null) {
      response.writeHead(200, { 'Content-Type': 'application/octet-stream', 'Cache-Control': 'no-store' });
      return void response.end(proof);
    }
    const name = nameOf(request);
    // Nobody is led to a name that is not ours.
    if (!this.names.has(name) || path.startsWith(CHALLENGE_PATH))
      return plainEnglish(response, 404, 'There is nothing here.');
    const port = new URL(this.config.publicUrl).port;
    response.writeHead(308, { Location: `https://${name}${port && `:${port}`}${path}`, 'Content-Length': 0 }).end();
  }
}

/** The name in the Host header, in lower case and without its port. */
function nameOf({ headers }: IncomingMessage): string {
  return (headers.host ?? '').toLowerCase().replace(/:\d+$/, '');
}
