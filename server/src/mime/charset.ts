import { TextDecoder } from 'node:util';
import type { TextPart } from './split.js';

/** So much of a document is looked at for a declaration (HTML, section 13.2.3.2). */
const DECLARED_WITHIN_BYTES = 1024;
const DECLARED = /<meta\s[^>]*?charset\s*=\s*["']?\s*([\w-]{2,40})/i;
/** RFC 2045, section 5.2 */
const DEFAULT_CHARSET = 'us-ascii';

/**
 * The charset of a text part in lower case, as programs decide upon it: by the mark at its beginning, else by its header, else
 * by what an HTML document says of itself.
 */
export function charsetOf({ charset, mediaType }: Pick<TextPart, 'charset' | 'mediaType'>, content: Buffer): string {
  if (content.subarray(0, 3).equals(Buffer.from([0xef, 0xbb, 0xbf]))) return 'utf-8';
  if (charset !== '') return charset;
  const beginning = content.subarray(0, DECLARED_WITHIN_BYTES).toString('latin1');
  return (mediaType === 'text/html' && DECLARED.exec(beginning)?.[1]?.toLowerCase()) || DEFAULT_CHARSET;
}

/** Reads octets of one charset. */
export interface Decoder {
  /** Its name in the Encoding Standard. */
  encoding: string;
  decode(octets: Uint8Array): string;
}

/** What stands at 80 to 9F in windows-1252: the runtime reads it as ISO 8859-1, which has control characters there. */
const WINDOWS_1252 = '€\x81‚ƒ„…†‡ˆ‰Š‹Œ\x8dŽ\x8f\x90‘’“”•–—˜™š›œ\x9džŸ';

/** Undefined for a charset that is unknown (Encoding Standard, section 4.2). */
export function decoderOf(charset: string): Decoder | undefined {
  try {
    const decoder = new TextDecoder(charset);
    if (decoder.encoding !== 'windows-1252') return decoder;
    const read = (octets: Uint8Array) =>
      decoder.decode(octets).replace(/[\x80-\x9f]/g, (control) => WINDOWS_1252[control.charCodeAt(0) - 0x80]!);
    return { encoding: decoder.encoding, decode: read };
  } catch {
    return undefined;
  }
}

const encoders = new Map<string, ReadonlyMap<string, string>>();

/**
 * The query of an address as a browser asks for it from a document of some charset: what is not ASCII is percent-encoded in
 * that charset, and what that does not have as a character reference (URL Standard, “percent-encode after encoding”).
 */
export function withEncodedQuery(href: string, charset: string): string {
  const decoder = decoderOf(charset);
  if (!decoder || decoder.encoding === 'utf-8' || decoder.encoding.startsWith('utf-16')) return href;
  return href.replace(/\?[^#]*/, (query) =>
    query.replace(/[^\0-\x7f]/gu, (character) => {
      const octets = encoderOf(decoder).get(character);
      return octets ?? `%26%23${character.codePointAt(0)}%3B`;
    }),
  );
}

/** Percent-encoded octets by character: what one and two octets stand for, read out of the decoder. */
function encoderOf(decoder: Decoder): ReadonlyMap<string, string> {
  const known = encoders.get(decoder.encoding);
  if (known) return known;
  const octets = new Map<string, string>();
  const note = (...bytes: number[]) => {
    const text = decoder.decode(Uint8Array.from(bytes));
    const written = bytes.map((byte) => `%${byte.toString(16).toUpperCase().padStart(2, '0')}`).join('');
    if ([...text].length === 1 && text !== '\ufffd' && !octets.has(text)) octets.set(text, written);
  };
  for (let first = 0x80; first <= 0xff; first += 1) note(first);
  for (let first = 0x81; first <= 0xfe; first += 1)
    for (let second = 0x30; second <= 0xfe; second += 1) note(first, second);
  encoders.set(decoder.encoding, octets);
  return octets;
}
