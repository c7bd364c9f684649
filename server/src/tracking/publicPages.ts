import type { ServerResponse } from 'node:http';

/** Of the public site’s own pages: nothing runs in them, and nothing is loaded. */
export const PAGE_HEADERS = {
  'Content-Type': 'text/html; charset=utf-8',
  'Cache-Control': 'no-store',
  'Content-Security-Policy':
    "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'; frame-ancestors 'none'",
  'Referrer-Policy': 'no-referrer',
  'X-Content-Type-Options': 'nosniff',
  'X-Robots-Tag': 'noindex',
};

/** A page of one sentence. */
export function plain(response: ServerResponse, status: number, words: string): void {
  page(response, status, words, '');
}

/**
 * @param heading HTML, and the page’s title
 * @param body HTML; in both, everything from outside is escaped
 */
export function page(response: ServerResponse, status: number, heading: string, body: string): void {
  const html =
    '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">' +
    `<title>${heading}</title><main style="font: 17px/1.6 sans-serif; max-width: 32em; margin: 3em auto; padding: 0 1em">` +
    `<h1 style="font-size: 1.25em">${heading}</h1>${body}</main></html>`;
  response.writeHead(status, { ...PAGE_HEADERS, 'Content-Length': Buffer.byteLength(html) }).end(html);
}
