import { Splitter, type MimeChunk, type MimeNode } from 'mailsplit';
import { fieldValue, withoutFields } from './header.js';

const ENCODING_FIELD = 'Content-Transfer-Encoding';

/** One text part of a mail, with its body as it stands in the mail. */
export interface TextPart {
  mediaType: 'text/html' | 'text/plain';
  /** Its own header with the empty line after it, as octets in a latin1 string; empty where that is the mail’s. */
  header: string;
  /** As its header names it, in lower case; empty where none is named. */
  charset: string;
  /** The content-transfer-encoding in lower case; empty where none is named. */
  encoding: string;
  body: Buffer;
}

export type Protection = 'signed' | 'encrypted';

/** A mail taken apart so that put together again it is the same, byte for byte. */
export interface SplitMail {
  /** The outermost header with the empty line after it, as octets in a latin1 string. */
  header: string;
  /** Everything after the header. Text parts that a reader is shown stand for themselves, all else is left as it was. */
  pieces: (Buffer | TextPart)[];
  /** Why nothing in it may be changed; null where it may. */
  protection: Protection | null;
}

/** No mail program writes more; a mail that does is not read to its end. */
export const LIMITS = { maxHeadSize: 1024 * 1024, maxChildNodes: 1000 };

/** RFC 8551, section 3.2: what a part of this type is, its parameter says. */
const PKCS7 = /^application\/(x-)?pkcs7-mime$/;
const SIGNED_DATA = /smime-type\s*=\s*"?signed-data/i;

/**
 * Takes a mail apart (RFC 2046). Messages within it are part of what is left alone.
 *
 * @throws Error where its header is larger, or its parts more, than any mail program writes
 */
export async function splitMail(raw: Buffer): Promise<SplitMail> {
  const splitter = new Splitter({ ignoreEmbedded: true, ...LIMITS });
  const mail: SplitMail = { header: '', pieces: [], protection: null };
  const places = new Map<MimeNode, { part: TextPart; chunks: Buffer[] }>();
  const rest: Buffer[] = [];
  let within: Protection | null = null;
  const flush = () => {
    if (rest.length > 0) mail.pieces.push(joined(rest.splice(0)));
  };

  splitter.end(raw);
  for await (const item of splitter as AsyncIterable<MimeNode | MimeChunk>) {
    if (item.type === 'node') {
      const protection = protectionOf(item);
      within ??= protection;
      if (item.root) {
        mail.protection = protection;
        mail.header = item.getHeaders().toString('latin1');
      }
      if (isShownText(item)) {
        flush();
        const part = textPart(item);
        places.set(item, { part, chunks: [] });
        mail.pieces.push(part);
      } else if (!item.root) rest.push(item.getHeaders());
      continue;
    }
    const place = item.type === 'body' ? places.get(item.node) : undefined;
    if (place) place.chunks.push(item.value);
    else rest.push(item.value);
  }
  flush();
  for (const { part, chunks } of places.values()) part.body = joined(chunks);
  mail.protection ??= mail.pieces.map(armourOf).find((found) => found !== null) ?? null;
  // Where all that could be tracked lies within what is protected, that is the reason.
  if (!mail.pieces.some(isTextPart)) mail.protection ??= within;
  return mail;
}

/** Octets in one piece; of those that follow each other in one mail nothing is copied. */
function joined(chunks: Buffer[]): Buffer {
  const [first] = chunks;
  let end = first?.byteOffset ?? 0;
  for (const { buffer, byteOffset, length } of chunks) {
    if (buffer !== first!.buffer || byteOffset !== end) return Buffer.concat(chunks);
    end += length;
  }
  return first ? Buffer.from(first.buffer, first.byteOffset, end - first.byteOffset) : Buffer.alloc(0);
}

/** What stands for a text part in a mail that is put together. */
export interface Replacement {
  encoding: string;
  body: Buffer;
}

/** Puts a mail together: with these octets in place of each text part, or with the part as it was. */
export function joinMail(mail: SplitMail, replaced: ReadonlyMap<TextPart, Replacement> = new Map()): Buffer {
  return Buffer.concat(runsOf(mail, replaced).map(({ bytes }) => bytes));
}

/** Octets of a mail that are as they were in it, or not. */
interface MailRun {
  bytes: Buffer;
  isChanged: boolean;
}

/** A mail in runs of octets, in their order, each as it was in the mail or changed. */
export function runsOf(mail: SplitMail, replaced: ReadonlyMap<TextPart, Replacement>): MailRun[] {
  const root = mail.pieces.find((piece): piece is TextPart => isTextPart(piece) && piece.header === '');
  const runs: MailRun[] = [runOf(mail.header, root && replaced.get(root))];
  for (const piece of mail.pieces) {
    if (!isTextPart(piece)) {
      runs.push({ bytes: piece, isChanged: false });
      continue;
    }
    const replacement = replaced.get(piece);
    if (piece.header !== '') runs.push(runOf(piece.header, replacement));
    runs.push({ bytes: replacement?.body ?? piece.body, isChanged: replacement !== undefined });
  }
  return runs;

  function runOf(header: string, replacement: Replacement | undefined) {
    const encoding = (fieldValue(header, ENCODING_FIELD) ?? '').toLowerCase();
    const isChanged = replacement !== undefined && replacement.encoding !== encoding;
    const written = isChanged
      ? `${ENCODING_FIELD}: ${replacement.encoding}\r\n${withoutFields(header, [ENCODING_FIELD])}`
      : header;
    return { bytes: Buffer.from(written, 'latin1'), isChanged };
  }
}

export function isTextPart(piece: Buffer | TextPart): piece is TextPart {
  return !Buffer.isBuffer(piece);
}

/** What has a name is a file, however it is to be shown (RFC 2183, section 2): as are parts that say so. */
export function isFile({ disposition, filename }: MimeNode): boolean {
  return disposition === 'attachment' || Boolean(filename);
}

function isShownText(node: MimeNode): boolean {
  if (isFile(node)) return false;
  for (let parent = node.parentNode; parent; parent = parent.parentNode) if (protectionOf(parent)) return false;
  return SHOWN.has(mediaTypeOf(node));
}

const SHOWN = new Set(['text/html', 'text/plain']);

/** Without a comment that may stand there (RFC 2045, section 5.1). */
function mediaTypeOf({ contentType }: MimeNode): string {
  return (contentType || '').replace(/\([^)]*\)/g, '').trim();
}

function textPart(node: MimeNode): TextPart {
  return {
    mediaType: mediaTypeOf(node) as TextPart['mediaType'],
    header: node.root ? '' : node.getHeaders().toString('latin1'),
    charset: (node.charset || '').toLowerCase(),
    encoding: node.encoding,
    body: Buffer.alloc(0),
  };
}

/** Whether a part holds what must stay as it is. One that is a mere attachment protects nothing but itself. */
function protectionOf(node: MimeNode): Protection | null {
  if (node.contentType === 'multipart/signed') return 'signed';
  if (node.contentType === 'multipart/encrypted') return 'encrypted';
  if (!node.root || !PKCS7.test(node.contentType || '')) return null;
  return SIGNED_DATA.test(fieldValue(node.getHeaders().toString('latin1'), 'Content-Type') ?? '')
    ? 'signed'
    : 'encrypted';
}

/** OpenPGP within the text (RFC 9580, section 6.2): a change would break it. */
function armourOf(piece: Buffer | TextPart): Protection | null {
  if (!isTextPart(piece)) return null;
  const kind = /^-----BEGIN PGP (SIGNED )?MESSAGE-----/m.exec(piece.body.subarray(0, 2000).toString('latin1'));
  return kind && (kind[1] ? 'signed' : 'encrypted');
}
