import { convert, type HtmlToTextOptions } from 'html-to-text';
import { MailParser, type AddressObject, type AttachmentStream, type MailParserOptions } from 'mailparser';
import type { Mailbox } from '@kiraku/core/contract';
import { addressIn, messageIdsIn, ORIGINAL_FROM_FIELDS, referencesOf, type ReceivedMail } from '@kiraku/core/incoming';
import { readCalendarReply } from './calendarReply.js';
import { repairMail } from './repair.js';
import { htmlProblem, MESSAGE_LIMITS, textOutsideTags } from '@kiraku/core/message';

/** A mail of somebody else, taken apart: what is decided upon, and what is shown of it. */
export interface OpenedMail extends ReceivedMail {
  /** As it came; null for plain text, and where it may not be parsed. */
  html: string | null;
  /** Why its HTML may not be parsed; null where it may. */
  problem: string | null;
  /** Who is to be replied to, and who a list says wrote it. */
  replyTo: Mailbox[];
  to: Mailbox[];
  cc: Mailbox[];
  bcc: Mailbox[];
  /** Those that its HTML may show. */
  pictures: { contentId: string; mediaType: string; bytes: Uint8Array }[];
  /** The names of files that travel with it, besides what its HTML shows. */
  attachments: string[];
}

const MAX_TEXT_CHARS = 500_000;
const MAX_MAIL_LINE_CHARS = 900;
const MAX_REPORT_BYTES = 1_000_000;
const MAX_PICTURE_BYTES = MESSAGE_LIMITS.maxPictureBytes;
const MAX_PICTURES_BYTES = 25_000_000;
const REPORT = /^message\/(global-)?(delivery-status|disposition-notification)$/;
const RETURNED = /^(message\/rfc822|message\/global|text\/rfc822-headers|message\/(global|rfc822)-headers)$/;
const CALENDAR = /^(text\/calendar|application\/ics)$/;
const PICTURE = /^image\/(png|jpeg|gif|webp)$/;

/** What is kept of a part besides the message. */
interface Part {
  mediaType: string;
  contentId: string | undefined;
  name: string;
  isRelated: boolean;
  /** Empty where it is not wanted, or too large. */
  bytes: Buffer;
}

/** What the library gives out at its end. */
interface Parsed {
  headers: ReadonlyMap<string, unknown>;
  headerLines: readonly { key: string; line: string }[];
  text: string;
  html: string | null;
  parts: Part[];
}

/**
 * Takes a mail apart (RFC 5322, RFC 2045). What it reads may be hostile: call it in a process of its own.
 *
 * @param returnPath MAIL FROM where the server had it from; null where that is not known
 * @returns null for what is no mail
 */
export async function readMail(raw: Buffer, returnPath: string | null): Promise<OpenedMail | null> {
  const parsed = await parse(repairMail(raw));
  if (parsed.headers.size === 0) return null;
  const { parts } = parsed;
  const headers = headersOf(parsed.headerLines);
  const [from] = mailboxes(parsed.headers.get('from'));
  const problem = parsed.html === null ? null : htmlProblem(parsed.html);
  return {
    messageIdHeader: messageIdsIn(headers.get('message-id') ?? '')[0] ?? null,
    returnPath: returnPath ?? writtenPath(headers.get('return-path')),
    from: from ?? { name: '', address: '' },
    replyTo: [...mailboxes(parsed.headers.get('reply-to')), ...originalFrom(headers)],
    to: mailboxes(parsed.headers.get('to')),
    cc: mailboxes(parsed.headers.get('cc')),
    bcc: mailboxes(parsed.headers.get('bcc')),
    subject: oneLine(typeof parsed.headers.get('subject') === 'string' ? String(parsed.headers.get('subject')) : ''),
    references: referencesOf((name) => headers.get(name)),
    headers,
    text: textOf(parsed, problem).slice(0, MAX_TEXT_CHARS),
    reports: parts
      .filter(({ mediaType }) => REPORT.test(mediaType))
      .map(({ mediaType, bytes }) => ({ mediaType, text: bytes.toString('utf8') })),
    calendar: readCalendarReply(parts.find(({ mediaType }) => CALENDAR.test(mediaType))?.bytes),
    returned: await returnedText(parts.find(({ mediaType }) => RETURNED.test(mediaType))),
    html: problem === null ? parsed.html : null,
    problem,
    pictures: parts
      .filter(({ mediaType, contentId, bytes }) => contentId && PICTURE.test(mediaType) && bytes.length > 0)
      .map(({ contentId, mediaType, bytes }) => ({ contentId: contentId!, mediaType, bytes })),
    attachments: parts.filter(({ isRelated }) => !isRelated).map(({ name }) => name || 'a file without a name'),
  };
}

/** What is read of it: all that its HTML shows, which has the plain text that stands beside it, or else the plain text. */
function textOf({ text, html }: Parsed, problem: string | null): string {
  if (html === null) return text;
  if (problem !== null) return text === '' ? textOutsideTags(html) : text;
  const words = convert(html, AS_TEXT);
  return words.trim() === '' ? text : words;
}

/** Quotes get their marks; a fragment before a whole document is read as well as that. */
const AS_TEXT: HtmlToTextOptions = {
  wordwrap: false,
  baseElements: { selectors: [] },
  selectors: [
    { selector: 'a', options: { ignoreHref: true } },
    ...['img', 'head', 'title', 'style', 'script', 'template'].map((selector) => ({ selector, format: 'skip' })),
    ...['h1', 'h2', 'h3', 'h4', 'h5', 'h6'].map((selector) => ({ selector, options: { uppercase: false } })),
  ],
};

/** A mail that is returned: its header as it is, then what it says, without its encoding. */
async function returnedText(part: Part | undefined): Promise<string> {
  if (!part) return '';
  const written = part.bytes.toString('utf8');
  if (!/rfc822$|global$/.test(part.mediaType)) return written;
  const { text, html } = await parse(part.bytes);
  return `${written.split(/\r?\n\r?\n/, 1)[0]}\n\n${html ?? ''}\n${text}`;
}

function originalFrom(headers: ReadonlyMap<string, string>): Mailbox[] {
  return ORIGINAL_FROM_FIELDS.flatMap((name) => addressIn(headers.get(name))).map((address) => ({ name: '', address }));
}

async function parse(raw: Buffer): Promise<Parsed> {
  // The library's types do not know the first.
  const options: MailParserOptions & { keepDeliveryStatus: boolean } = {
    keepDeliveryStatus: true,
    skipHtmlToText: true,
    // Plain text beside HTML is shown with it, as text.
    skipTextLinks: true,
    skipImageLinks: true,
  };
  const parser = new MailParser(options);
  const parsed: Parsed = { headers: new Map(), headerLines: [], text: '', html: null, parts: [] };
  let roomBytes = MAX_PICTURES_BYTES;
  parser.on('headers', (headers: Parsed['headers']) => (parsed.headers = headers));
  parser.on('headerLines', (lines: Parsed['headerLines']) => (parsed.headerLines = lines));
  // Not all errors are the end of it: what could be read counts.
  parser.on('error', () => undefined);
  parser.end(raw);
  for await (const data of parser as AsyncIterable<
    AttachmentStream | { type: 'text'; text?: string; html?: unknown }
  >) {
    if (data.type === 'text') {
      parsed.text = data.text ?? '';
      parsed.html = typeof data.html === 'string' && data.html !== '' ? data.html : null;
    } else {
      const part = await partOf(data as AttachmentStream, roomBytes);
      roomBytes -= part.bytes.length;
      parsed.parts.push(part);
    }
  }
  return parsed;
}

async function partOf(part: AttachmentStream, roomBytes: number): Promise<Part> {
  const mediaType = String(part.contentType).toLowerCase();
  const contentId = part.cid;
  const maxBytes = maxBytesOf(mediaType, contentId, roomBytes);
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of part.content as AsyncIterable<Buffer>) {
    size += chunk.length;
    if (size <= maxBytes) chunks.push(chunk);
  }
  part.release?.();
  const bytes = size <= maxBytes || !PICTURE.test(mediaType) ? Buffer.concat(chunks) : Buffer.alloc(0);
  return { mediaType, contentId, name: oneLine(part.filename ?? ''), isRelated: part.related === true, bytes };
}

function maxBytesOf(mediaType: string, contentId: string | undefined, roomBytes: number): number {
  if ([REPORT, RETURNED, CALENDAR].some((kind) => kind.test(mediaType))) return MAX_REPORT_BYTES;
  return contentId && PICTURE.test(mediaType) ? Math.min(MAX_PICTURE_BYTES, roomBytes) : 0;
}

/** As they were written: the library gives most of them as objects. */
function headersOf(lines: Parsed['headerLines']): Map<string, string> {
  const headers = new Map<string, string>();
  for (const { key, line } of lines) {
    const value = line
      .slice(line.indexOf(':') + 1)
      .replace(/\r?\n[ \t]+/g, ' ')
      .trim();
    if (!headers.has(key)) headers.set(key, value);
  }
  return headers;
}

/** What the server that took the mail in wrote above it (RFC 5321, section 4.4); empty for "<>". */
function writtenPath(value: string | undefined): string | null {
  return value === undefined ? null : value.replace(/[<>\s]/g, '');
}

function mailboxes(value: unknown): Mailbox[] {
  return [(value as AddressObject | AddressObject[] | undefined) ?? []]
    .flat()
    .flatMap((list) => list.value)
    .flatMap((one) => one.group ?? [one])
    .slice(0, MESSAGE_LIMITS.maxRecipients)
    .map(({ name = '', address = '' }) => ({ name: oneLine(name), address }));
}

function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069]+/gu, ' ').slice(0, MAX_MAIL_LINE_CHARS);
}
