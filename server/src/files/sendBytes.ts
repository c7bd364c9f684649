import type { IncomingMessage, ServerResponse } from 'node:http';
import { create as contentDisposition } from 'content-disposition';
import send, { type SendOptions } from 'send';
import { isShownAsItIs, kindOfType } from '@kiraku/core/files';

/** Nothing that comes from a file may run, wherever it is opened. */
const BYTES_HEADERS = {
  'Content-Security-Policy': "default-src 'none'; sandbox",
  'X-Content-Type-Options': 'nosniff',
  'Referrer-Policy': 'no-referrer',
  'X-Robots-Tag': 'noindex',
  'Cross-Origin-Resource-Policy': 'same-origin',
};

/** Larger pieces than a stream reads by itself: files are large. */
const SENT: SendOptions & { highWaterMark: number } = {
  cacheControl: false,
  dotfiles: 'allow',
  index: false,
  highWaterMark: 512 * 1024,
};

/**
 * Answers with the bytes of a file to be shown, by ranges where they are asked for (RFC 9110, section 14). Only the few
 * types that are shown keep their name; all others are bytes to the browser.
 */
export function sendBytes(request: IncomingMessage, response: ServerResponse, path: string, mediaType: string): void {
  stream(
    request,
    response,
    path,
    isShownAsItIs(kindOfType(mediaType)) ? mediaType : 'application/octet-stream',
    'inline',
  );
}

/** The same to be saved under a name (RFC 6266): never to be opened in its place. */
export function sendDownload(request: IncomingMessage, response: ServerResponse, path: string, name: string): void {
  stream(request, response, path, 'application/octet-stream', contentDisposition(name));
}

function stream(
  request: IncomingMessage,
  response: ServerResponse,
  path: string,
  mediaType: string,
  disposition: string,
): void {
  for (const [name, value] of Object.entries(BYTES_HEADERS)) response.setHeader(name, value);
  response.setHeader('Content-Type', mediaType);
  response.setHeader('Content-Disposition', disposition);
  // Whoever may see it may see it again; what was switched off is not to come from a cache.
  response.setHeader('Cache-Control', 'private, no-cache');
  send(request, path, SENT)
    .on('error', (error: { status?: number }) => {
      response.writeHead(error.status ?? 500, { 'Content-Type': 'text/plain; charset=utf-8' });
      response.end('This file cannot be read at the moment.');
    })
    .pipe(response);
}
