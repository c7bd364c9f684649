import { withoutFileMarks } from '@kiraku/core/files';
import { escapeHtml, htmlProblem } from '@kiraku/core/message';
import { compile } from 'html-to-text';
import sanitizeHtml from 'sanitize-html';
import { invalid } from '../http/problem.js';
import { ALLOWED_HTML } from './cleaning.js';

/** How a message refers to a picture of the store: by the SHA-256 of its bytes (RFC 2392). */
const PICTURE_URLS = /cid:([0-9a-f]{64})@picture/g;

/**
 * The body as it may be kept, shown and sent: scripts, handlers, frames and foreign addresses are gone.
 *
 * @throws 422 for HTML that would take too long to parse
 */
export function cleanBody(html: string): string {
  const problem = htmlProblem(html);
  if (problem) throw invalid(`${problem} Paste it as plain text, or in parts.`, [{ field: 'html', message: problem }]);
  return sanitizeHtml(html, ALLOWED_HTML);
}

/** A message of ours for what begins others: files do not travel with it. */
export function cleanText(html: string): string {
  return withoutFileMarks(cleanBody(html));
}

/** The body as it leaves: without what the writer said to the desk only. */
export function leavingBody(html: string): string {
  const { allowedAttributes } = ALLOWED_HTML;
  return sanitizeHtml(html, { ...ALLOWED_HTML, allowedAttributes: { ...allowedAttributes, a: ['href', 'title'] } });
}

/** A message of plain text, as HTML. */
export function bodyOfText(text: string): string {
  return escapeHtml(text)
    .split(/(?:\r?\n){2,}/)
    .map((paragraph) => `<p>${paragraph.trim().replace(/\r?\n/g, '<br>')}</p>`)
    .join('');
}

/** Whether there is nothing in it to read or to look at. */
export function isEmptyBody(html: string): boolean {
  return bodyText(html).trim() === '' && picturesIn(html).length === 0;
}

/** The ids of the pictures that a message shows, each once. */
export function picturesIn(html: string): string[] {
  return [...new Set([...html.matchAll(PICTURE_URLS)].map(([, id]) => id!))];
}

/** The Content-ID under which a picture travels, without its angle brackets. */
export function contentIdOf(pictureId: string): string {
  return `${pictureId}@picture`;
}

/** A message that shows its pictures by itself: each as a data URL. Those that are missing stay as they are. */
export function withPictures(
  html: string,
  pictures: readonly { id: string; mediaType: string; bytes: Buffer }[],
): string {
  const urls = new Map(
    pictures.map(({ id, mediaType, bytes }) => [id, `data:${mediaType};base64,${bytes.toString('base64')}`]),
  );
  return html.replace(PICTURE_URLS, (whole, id: string) => urls.get(id) ?? whole);
}

/** The plain-text alternative (RFC 2046, section 5.1.4): readable by itself, a paragraph a line, links with targets. */
export const bodyText: (html: string) => string = compile({
  wordwrap: false,
  selectors: [
    { selector: 'a', options: { hideLinkHrefIfSameAsText: true, linkBrackets: ['<', '>'] } },
    { selector: 'img', format: 'skip' },
    ...['h1', 'h2', 'h3', 'h4'].map((selector) => ({ selector, options: { uppercase: false } })),
  ],
});

/** A whole document around a body, in the plain way that mail programs agree on. */
export function bodyDocument(body: string): string {
  return (
    '<!doctype html>\n<html><head><meta charset="utf-8">' +
    '<meta name="viewport" content="width=device-width, initial-scale=1"></head>\n' +
    `<body style="font-family: Helvetica, Arial, sans-serif; font-size: 15px; line-height: 1.5">\n${body}\n</body></html>\n`
  );
}

/** The policy under which the desk shows a message, in a sandboxed frame: style attributes only. */
export const BODY_CSP = "default-src 'none'; style-src 'unsafe-inline'; img-src data:; frame-ancestors 'self'";

/** A message as the desk shows it: links open beside the desk, and tell nobody where from. */
export function shownBody(body: string): string {
  return (
    '<!doctype html><html lang="und"><head><meta charset="utf-8"><title>Message</title><base target="_blank">' +
    '<meta name="referrer" content="no-referrer"></head><body>' +
    `${body}</body></html>`
  );
}
