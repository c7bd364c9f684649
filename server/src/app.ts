import 'reflect-metadata';
import type { AddressInfo } from 'node:net';
import { constants as zlib } from 'node:zlib';
import type { INestApplication } from '@nestjs/common';
import { NestFactory } from '@nestjs/core';
import type { NestExpressApplication } from '@nestjs/platform-express';
import compression from 'compression';
import type { NextFunction, Request, Response } from 'express';
import { AfterRestore } from './backup/afterRestore.js';
import { AppModule } from './app.module.js';
import { Clock } from './environment/clock.js';
import type { Config } from './environment/config.js';
import { LineLogger } from './environment/lineLogger.js';
import { UPLOADS_PATH } from './files/uploads.js';
import { apiDocument } from './http/apiDocument.js';
import { sessionToken } from './http/cookies.js';
import { ownHostsOnly } from './http/hosts.js';
import { jsonBody } from './http/jsonBody.js';
import { noStore } from './http/noStore.js';
import { servePage } from './http/page.js';
import { ProblemFilter } from './http/problem.filter.js';
import { sameOriginOnly, securityHeaders } from './http/security.js';
import { validationPipe } from './http/validation.js';
import { LmtpServer } from './incoming/lmtp.server.js';
import { MailboxFollower } from './incoming/mailboxFollower.js';
import { SessionService } from './session/session.service.js';
import { SubmissionServer } from './submission/submission.server.js';
import { Recorder } from './tracking/recorder.js';
import { Works } from './work/works.js';

/** The whole application on its data folder, not yet listening. Another clock serves tests and the demo's history. */
export async function createApp(config: Config, clock = new Clock()): Promise<NestExpressApplication> {
  const app = await NestFactory.create<NestExpressApplication>(AppModule.with(config, clock), {
    logger: new LineLogger(),
    bodyParser: false,
    // The live streams of open windows would hold a stop up for ever.
    forceCloseConnections: true,
  });
  app.disable('x-powered-by');
  // Of whom it forwards for, a proxy is trusted that was named, and no other.
  app.set('trust proxy', config.deskProxies.length > 0 ? config.deskProxies : false);
  app.use(...securityHeaders(config), ownHostsOnly(config), sameOriginOnly, noStore);
  const sessions = app.get(SessionService);
  app.use(jsonBody((request) => sessions.isOpen(sessionToken(request))));
  app.use(compressed);
  app.useGlobalFilters(new ProblemFilter());
  app.useGlobalPipes(validationPipe());
  app.getHttpAdapter().getInstance().get('/api/openapi.json', serveOpenApi(app));
  servePage(app.getHttpAdapter().getInstance());
  return app;
}

/** A proxy in front keeps its connections for a minute: one that is closed just when it is used again would lose a request. */
const KEPT_MS = 75_000;

/** Opens the desk and begins to send. Resolves to its port once all works. */
export async function openApp(app: INestApplication, config: Config): Promise<number> {
  await app.init();
  // Before a mail that comes in, or a page, wakes what sends.
  app.get(AfterRestore).finish();
  await app.get(SubmissionServer).open();
  await app.get(LmtpServer).open();
  // Last, so that whoever is told that the desk is healthy finds everything open.
  await app.listen(config.port, config.host);
  app.getHttpServer().keepAliveTimeout = KEPT_MS;
  // What happened meanwhile is known before anything is sent by it.
  await app.get(Recorder).follow();
  app.get(Works).start();
  app.get(MailboxFollower).open();
  // Null where it was stopped while it opened.
  return (app.getHttpServer().address() as AddressInfo | null)?.port ?? config.port;
}

const compress = compression({ filter: isCompressible });
/** A reply is made for one who waits: packing it well takes longer than it saves. */
const compressResponse = compression({
  filter: isCompressible,
  level: zlib.Z_BEST_SPEED,
  brotli: { params: { [zlib.BROTLI_PARAM_QUALITY]: 1 } },
});

/** The library that takes uploads in ends its answers in a way that the one that compresses does not know. */
function compressed(request: Request, response: Response, next: NextFunction): void {
  if (request.path.startsWith(UPLOADS_PATH)) return next();
  const pack = request.path.startsWith('/api/') ? compressResponse : compress;
  pack(request, response, next);
}

/** A compressed stream would be held back until enough has gathered. */
function isCompressible(request: Request, response: Response): boolean {
  return response.getHeader('Content-Type') !== 'text/event-stream' && compression.filter(request, response);
}

function serveOpenApi(app: INestApplication) {
  let document: object | undefined;
  return (_request: Request, response: Response) => {
    document ??= apiDocument(app);
    response.json(document);
  };
}
