import { existsSync, readFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { dirname, extname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import type { ViewerFile } from '@kiraku/core/contract';
import { titleOf } from '@kiraku/core/files';
import { escapeHtml } from '@kiraku/core/message';
import { viewerSentences } from '@kiraku/core/publicPages';
import { about, PAGE_HEADERS, plain, spokenTo } from './publicPages.js';
import { PDFJS } from '../files/pdfFolder.js';

const BUILT = join(dirname(fileURLToPath(import.meta.url)), '../../../web/viewer/dist');
/** What PDF pages may need besides. */
const PDFJS_FOLDERS = new Set(['cmaps', 'standard_fonts', 'wasm', 'iccs']);

const TYPES: Record<string, string> = {
  '.js': 'text/javascript; charset=utf-8',
  '.mjs': 'text/javascript; charset=utf-8',
  '.css': 'text/css; charset=utf-8',
  '.wasm': 'application/wasm',
  '.svg': 'image/svg+xml',
  '.woff2': 'font/woff2',
};

/** Scripts and workers from here alone; pictures that pages are drawn from; WebAssembly to decode them. */
const VIEWER_CSP =
  "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; worker-src 'self'; style-src 'self'; " +
  "style-src-attr 'unsafe-inline'; img-src 'self' blob: data:; media-src 'self'; font-src 'self' data:; " +
  "connect-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

interface Part {
  plain: Buffer;
  packed: Buffer;
}

const parts = new Map<string, Part>();
let template: string | undefined;

/** The page that shows a file: what it shows stands in it, so that nothing need be asked for first. */
export function viewerPage(
  response: ServerResponse,
  file: Omit<ViewerFile, 'sentences'>,
  { optOut }: { optOut: string | null },
): void {
  const {
    language,
    sentences: { dir },
  } = spokenTo(response);
  const sentences = viewerSentences(language);
  template ??= readFileSync(join(BUILT, 'index.html'), 'utf8');
  const title = escapeHtml(titleOf(file.name));
  const take = file.download === null ? '' : `<a href="${file.download}">${escapeHtml(sentences.download)}</a>`;
  const without = take || escapeHtml(sentences.allowScripts);
  const decline =
    optOut === null ? '' : `<a href="${optOut}" rel="nofollow">${escapeHtml(sentences.aboutTracking)}</a>`;
  const fill: Record<string, string> = {
    __TITLE__: title,
    __LANGUAGE__: language,
    __DIRECTION__: dir,
    __SENDER__: about(sentences.from, file.sender),
    __FILE__: escapeHtml(JSON.stringify({ ...file, sentences } satisfies ViewerFile)),
    __WITHOUT__: without,
    __TAKE__: take,
    __DECLINE__: decline,
  };
  const html = template.replace(/__[A-Z]+__/g, (name) => fill[name] ?? name);
  response
    .writeHead(200, {
      ...PAGE_HEADERS,
      'Content-Security-Policy': VIEWER_CSP,
      Vary: 'Accept-Language',
      'Content-Length': Buffer.byteLength(html),
    })
    .end(html);
}

/** What that page is made of. Its names carry a hash of their content, or the library’s version. */
export function sendViewerPart(request: IncomingMessage, response: ServerResponse, name: string): void {
  const path = pathOf(name);
  if (!path || !existsSync(path)) return plain(response, 404, 'nothingHere');
  const part = parts.get(path) ?? read(path);
  const isPacked = /\bgzip\b/.test(String(request.headers['accept-encoding'] ?? ''));
  const body = isPacked ? part.packed : part.plain;
  response.writeHead(200, {
    'Content-Type': TYPES[extname(path)] ?? 'application/octet-stream',
    'Content-Length': body.length,
    ...(isPacked && { 'Content-Encoding': 'gzip' }),
    Vary: 'Accept-Encoding',
    'Cache-Control': 'public, max-age=31536000, immutable',
    'X-Content-Type-Options': 'nosniff',
    'Cross-Origin-Resource-Policy': 'same-origin',
    // A worker is bound by a policy of its own.
    'Content-Security-Policy': "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'",
  });
  response.end(request.method === 'HEAD' ? undefined : body);
}

/** Undefined for what is not the page’s. The public site lets through names without “..” alone. */
function pathOf(name: string): string | undefined {
  const [folder, library, part, ...more] = name.split('/');
  if (folder === 'parts' && library && part === undefined) return join(BUILT, name);
  if (folder !== 'pdfjs' || !library || !part || more.length > 0 || !PDFJS_FOLDERS.has(library)) return undefined;
  return join(PDFJS, library, part);
}

function read(path: string): Part {
  const plainBytes = readFileSync(path);
  const part = { plain: plainBytes, packed: gzipSync(plainBytes, { level: 9 }) };
  parts.set(path, part);
  return part;
}
