import libqp from 'libqp';
import type { TextPart } from './split.js';

/** RFC 2045, section 6.8 */
const BASE64_LINE = /.{76}(?!$)/g;

/** The content of a text part without its content-transfer-encoding. */
export function decodePart({ encoding, body }: Pick<TextPart, 'encoding' | 'body'>): Buffer {
  if (encoding === 'base64') return Buffer.from(body.toString('latin1'), 'base64');
  if (encoding === 'quoted-printable') return libqp.decode(body);
  return body;
}

/** The content of a part in its content-transfer-encoding again; lines end as the part's own did. */
export function encodePart({ encoding, body }: Pick<TextPart, 'encoding' | 'body'>, content: Buffer): Buffer {
  const lineEnd = body.includes('\r\n') || !body.includes('\n') ? '\r\n' : '\n';
  if (encoding === 'base64') {
    const lines = content.toString('base64').replace(BASE64_LINE, `$&${lineEnd}`);
    return Buffer.from(body.at(-1) === 0x0a ? lines + lineEnd : lines);
  }
  if (encoding === 'quoted-printable') {
    const octets = libqp.encode(content);
    // In a mail of CRLF lines, a CR or LF by itself is content, and would become a line end on its way.
    const safe = lineEnd === '\n' ? octets : octets.replace(/\r(?!\n)/g, '=0D').replace(/(?<!\r)\n/g, '=0A');
    return Buffer.from(libqp.wrap(safe).replace(/\r?\n/g, lineEnd), 'latin1');
  }
  return content;
}

/** The content as text; undefined where the charset is unknown. */
export function textOfPart(part: TextPart): string | undefined {
  try {
    return new TextDecoder(part.charset).decode(decodePart(part));
  } catch {
    return undefined;
  }
}
