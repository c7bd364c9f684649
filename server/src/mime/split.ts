import { Splitter, type MimeChunk, type MimeNode } from 'mailsplit';

/** One text part of a mail, with its body as it stands in the mail. */
export interface TextPart {
  mediaType: 'text/html' | 'text/plain';
  /** In lower case; us-ascii where none is named (RFC 2045, section 5.2). */
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

const SIGNED = new Set(['multipart/signed', 'application/pkcs7-mime', 'application/x-pkcs7-mime']);
const ENCRYPTED = new Set(['multipart/encrypted']);

/**
 * Takes a mail apart (RFC 2046). Messages within it are part of what is left alone.
 *
 * @throws Error where its header is larger, or its parts more, than any mail program writes
 */
export async function splitMail(raw: Buffer): Promise<SplitMail> {
  const splitter = new Splitter({ ignoreEmbedded: true, ...LIMITS });
  const mail: SplitMail = { header: '', pieces: [], protection: null };
  const bodies = new Map<MimeNode, Buffer[]>();
  const places = new Map<MimeNode, number>();
  const rest: Buffer[] = [];
  const flush = () => {
    if (rest.length > 0) mail.pieces.push(Buffer.concat(rest.splice(0)));
  };

  splitter.end(raw);
  for await (const item of splitter as AsyncIterable<MimeNode | MimeChunk>) {
    if (item.type === 'node') {
      mail.protection ??= protectionOf(item);
      if (item.root) mail.header = item.getHeaders().toString('latin1');
      else rest.push(item.getHeaders());
    } else if (item.type === 'body' && isShownText(item.node)) {
      flush();
      if (!places.has(item.node)) places.set(item.node, mail.pieces.push(textPart(item.node)) - 1);
      bodies.set(item.node, [...(bodies.get(item.node) ?? []), item.value]);
    } else {
      rest.push(item.value);
    }
  }
  flush();
  for (const [node, place] of places) (mail.pieces[place] as TextPart).body = Buffer.concat(bodies.get(node)!);
  if (mail.protection === null && mail.pieces.some(isInlineArmour)) mail.protection = 'encrypted';
  return mail;
}

/** Puts a mail together: with these octets in place of each text part, or with the part as it was. */
export function joinMail({ header, pieces }: SplitMail, replaced: ReadonlyMap<TextPart, Buffer> = new Map()): Buffer {
  const bodies = pieces.map((piece) => (isTextPart(piece) ? (replaced.get(piece) ?? piece.body) : piece));
  return Buffer.concat([Buffer.from(header, 'latin1'), ...bodies]);
}

export function isTextPart(piece: Buffer | TextPart): piece is TextPart {
  return !Buffer.isBuffer(piece);
}

function isShownText(node: MimeNode): boolean {
  if (node.disposition === 'attachment') return false;
  return node.contentType === 'text/html' || node.contentType === 'text/plain';
}

function textPart({ contentType, charset, encoding }: MimeNode): TextPart {
  return {
    mediaType: contentType as TextPart['mediaType'],
    charset: (charset || 'us-ascii').toLowerCase(),
    encoding,
    body: Buffer.alloc(0),
  };
}

function protectionOf({ contentType }: MimeNode): Protection | null {
  if (!contentType) return null;
  if (ENCRYPTED.has(contentType)) return 'encrypted';
  return SIGNED.has(contentType) ? 'signed' : null;
}

/** OpenPGP within the text (RFC 9580, section 6.2): a change would break it. */
function isInlineArmour(piece: Buffer | TextPart): boolean {
  return isTextPart(piece) && piece.body.subarray(0, 2000).includes('-----BEGIN PGP ');
}
