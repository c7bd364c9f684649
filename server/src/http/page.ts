import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Express, Request, Response } from 'express';
import packed from 'express-static-gzip';

const PAGE = join(dirname(fileURLToPath(import.meta.url)), '../../../web/dist');
/** What the build of the page writes wherever a nonce belongs. */
const NONCE = /__NONCE__/g;

/** The build lays files beside its own that are packed already. */
const PACKED = { index: false, enableBrotli: true, orderPreference: ['br', 'gzip'] };

/** Serves the page: its built files, and the one document for every address that is a view. */
export function servePage(app: Express): void {
  if (!existsSync(join(PAGE, 'index.html'))) return;
  const document = readFileSync(join(PAGE, 'index.html'), 'utf8');
  // File names under /assets carry a hash of their content.
  const assets = { immutable: true, maxAge: '1y', fallthrough: false };
  app.use('/assets', packed(join(PAGE, 'assets'), { ...PACKED, serveStatic: assets }));
  app.use(packed(PAGE, PACKED));
  app.get(/^\/(?!api\/|health)/, (request: Request, response: Response, next) => {
    if (!request.accepts('html')) return next();
    response.type('html').set('Cache-Control', 'no-cache').send(document.replace(NONCE, response.locals['nonce']));
  });
}
