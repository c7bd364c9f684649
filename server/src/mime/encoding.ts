import libqp from 'libqp';
import { charsetOf, decoderOf } from './charset.js';
import type { Replacement, TextPart } from './split.js';

/** RFC 2045, section 6.8 */
const BASE64_LINE = /.{76}(?!$)/g;

/** The content of a text part without its content-transfer-encoding. */
export function decodePart({ encoding, body }: Pick<TextPart, 'encoding' | 'body'>): Buffer {
  if (encoding === 'base64') return Buffer.from(body.toString('latin1'), 'base64');
  if (encoding === 'quoted-printable') return libqp.decode(body);
  return body;
}

/** RFC 5322, section 2.1.1 */
const MAX_LINE_OCTETS = 998;
/** Of these, the octets are the content itself (RFC 2045, section 6.2). */
const IDENTITY = new Set(['', '7bit', '8bit', 'binary']);

/** Whether a part’s content can be read, and written again. */
export function isKnownEncoding(encoding: string): boolean {
  return IDENTITY.has(encoding) || encoding === 'base64' || encoding === 'quoted-printable';
}

/**
 * The content of a part in its content-transfer-encoding again; lines end as the part's own did. Where a line would be longer
 * than mail may have, it is quoted-printable.
 */
export function encodePart({ encoding, body }: Pick<TextPart, 'encoding' | 'body'>, content: Buffer): Replacement {
  const lineEnd = body.includes('\r\n') || !body.includes('\n') ? '\r\n' : '\n';
  if (encoding === 'base64') {
    const lines = content.toString('base64').replace(BASE64_LINE, `$&${lineEnd}`);
    return { encoding, body: Buffer.from(body.at(-1) === 0x0a ? lines + lineEnd : lines) };
  }
  if (IDENTITY.has(encoding) && !hasLongLine(content)) return { encoding, body: content };
  const octets = libqp.encode(content);
  // In a mail of CRLF lines, a CR or LF by itself is content, and would become a line end on its way.
  const safe = lineEnd === '\n' ? octets : octets.replace(/\r(?!\n)/g, '=0D').replace(/(?<!\r)\n/g, '=0A');
  const wrapped = libqp.wrap(safe).replace(/\r?\n/g, lineEnd);
  return { encoding: 'quoted-printable', body: Buffer.from(wrapped, 'latin1') };
}

function hasLongLine(content: Buffer): boolean {
  for (let start = 0; start < content.length;) {
    const end = content.indexOf(0x0a, start);
    if ((end === -1 ? content.length : end) - start > MAX_LINE_OCTETS + 1) return true;
    if (end === -1) return false;
    start = end + 1;
  }
  return false;
}

/** The content as text; undefined where the charset or the encoding is unknown. */
export function textOfPart(part: TextPart): string | undefined {
  const content = isKnownEncoding(part.encoding) ? decodePart(part) : undefined;
  return content && decoderOf(charsetOf(part, content))?.decode(content);
}
