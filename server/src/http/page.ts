import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import express, { type Express, type Request, type Response } from 'express';

const PAGE = join(dirname(fileURLToPath(import.meta.url)), '../../../web/dist');
/** What the build of the page writes wherever a nonce belongs. */
const NONCE = /__NONCE__/g;

/** Serves the page: its built files, and the one document for every address that is a view. */
export function servePage(app: Express): void {
  if (!existsSync(join(PAGE, 'index.html'))) return;
  const document = readFileSync(join(PAGE, 'index.html'), 'utf8');
  // File names under /assets carry a hash of their content.
  app.use('/assets', express.static(join(PAGE, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(PAGE, { index: false }));
  app.get(/^\/(?!api\/|health)/, (request: Request, response: Response, next) => {
    if (!request.accepts('html')) return next();
    response.type('html').set('Cache-Control', 'no-cache').send(document.replace(NONCE, response.locals['nonce']));
  });
}
