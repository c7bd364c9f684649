import type { IncomingMessage, ServerResponse } from 'node:http';

/** What can only be read is answered to these methods. */
export const READING = ['GET', 'HEAD', 'OPTIONS'];

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

/** Where it leads learns nothing of where it was followed, and no index keeps it. */
const REDIRECT_HEADERS = {
  'Content-Length': 0,
  'Cache-Control': 'no-store',
  'Referrer-Policy': 'no-referrer',
  'X-Robots-Tag': 'noindex',
};

/** Answers with the tracking image. */
export function image(request: IncomingMessage, response: ServerResponse): void {
  if (request.method === 'OPTIONS') return allowReading(response);
  response.writeHead(200, IMAGE_HEADERS).end(IMAGE);
}

/** Leads on to where a link goes. */
export function redirect(request: IncomingMessage, response: ServerResponse, url: string): void {
  if (request.method === 'OPTIONS') return allowReading(response);
  response.writeHead(302, { ...REDIRECT_HEADERS, Location: url }).end();
}

export function json(response: ServerResponse, body: object): void {
  response
    .writeHead(200, { 'Content-Type': 'application/json', 'Cache-Control': 'no-store' })
    .end(JSON.stringify(body));
}

/** Responds with a calendar (RFC 5545), which no cache and no index keeps. */
export function calendar(response: ServerResponse, text: string): void {
  const headers = { 'Content-Type': 'text/calendar; charset=utf-8', 'Cache-Control': 'private, no-store' };
  response.writeHead(200, { ...headers, 'X-Content-Type-Options': 'nosniff', 'X-Robots-Tag': 'noindex' }).end(text);
}

function allowReading(response: ServerResponse): void {
  response.writeHead(204, { Allow: READING.join(', ') }).end();
}
