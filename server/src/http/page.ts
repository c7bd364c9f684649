import { existsSync, readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Express, NextFunction, Request, Response } from 'express';
import packed from 'express-static-gzip';

const PAGE = join(dirname(fileURLToPath(import.meta.url)), '../../../web/dist');
/** What the build of the page writes wherever a nonce belongs. */
const NONCE = /__NONCE__/g;

/** The build lays files beside its own that are packed already. */
const PACKED = { index: false, enableBrotli: true, orderPreference: ['br', 'gzip'] };

/**
 * Serves the page: its built files, and the one document for every address that is a view. It names what that view will load,
 * so that the browser fetches it along with what comes first.
 */
export function servePage(app: Express): void {
  if (!existsSync(join(PAGE, 'index.html'))) return;
  const document = readFileSync(join(PAGE, 'index.html'), 'utf8');
  const ahead = JSON.parse(readFileSync(join(PAGE, 'ahead.json'), 'utf8')) as Record<string, string[]>;
  const shown = (files: string[]) => {
    const links = files.map((file) => `<link ${kindOf(file)} crossorigin href="${file}" />`);
    const withLinks = document.replace('</head>', `${links.join('')}</head>`);
    return (request: Request, response: Response, next: NextFunction) => {
      if (!request.accepts('html')) return next();
      response.type('html').set('Cache-Control', 'no-cache').send(withLinks.replace(NONCE, response.locals['nonce']));
    };
  };
  // File names under /assets carry a hash of their content.
  const assets = { immutable: true, maxAge: '1y', fallthrough: false };
  app.use('/assets', packed(join(PAGE, 'assets'), { ...PACKED, serveStatic: assets }));
  app.use(packed(PAGE, PACKED));
  // As the page’s router has them; Express writes what may be left out in braces.
  for (const [path, files] of Object.entries(ahead)) app.get(path.replace(/\/(:\w+)\?/, '{/$1}'), shown(files));
  app.get(/^\/(?!api\/|health)/, shown([]));
}

/** How the browser is to fetch a file that is used later. */
function kindOf(file: string): string {
  return file.endsWith('.css') ? 'rel="preload" as="style"' : 'rel="modulepreload"';
}
