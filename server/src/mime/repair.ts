/** Deeper than any mail program nests them. */
const MAX_MIME_DEPTH = 100;
const BOUNDARY = /;\s*boundary\s*=\s*(?:"((?:[^"\\]|\\.){1,200})"|([^\s";]{1,200}))/i;
const PROTECTED = /multipart\/(signed|encrypted)/i;
const MULTIPART = /^content-type\s*:\s*multipart\//i;

/**
 * A mail as every parser reads it alike: each multipart that is not closed before the delimiter of an outer one (which RFC
 * 2046, section 5.1.2, allows) is closed there, and delimiters lose blanks at their end (section 5.1.1). A line before the
 * header as mailboxes in one file have it (RFC 4155) goes. A mail that has none of these stays as it is.
 */
export function repairMail(raw: Buffer): Buffer {
  const pieces: Buffer[] = [];
  const open: Multipart[] = [];
  let kept = envelopeLineEnd(raw);
  let header: string[] | null = [];
  const replace = (start: number, end: number, text: string) => {
    pieces.push(raw.subarray(kept, start), Buffer.from(text, 'latin1'));
    kept = end;
  };
  for (let start = kept; start < raw.length;) {
    const newline = raw.indexOf(0x0a, start);
    const end = newline === -1 ? raw.length : newline + 1;
    const isDelimiter = raw[start] === 0x2d && raw[start + 1] === 0x2d && open.length > 0;
    const found = isDelimiter ? delimiterOf(raw.toString('latin1', start, end), open) : null;
    if (found) {
      const isProtected = open.slice(0, found.depth + 1).some((one) => one.isProtected);
      const unclosed = open.splice(found.depth + 1).reverse();
      const written = `${unclosed.map(({ boundary }) => `--${boundary}--\r\n`).join('')}${found.line}`;
      // What is signed or encrypted stays as it is, to its last blank, and gets no delimiter that it had not.
      if (!isProtected && (unclosed.length > 0 || found.hasBlanks)) replace(start, end, written);
      if (found.isClosing) open.pop();
      header = found.isClosing ? null : [];
    } else if (header !== null) {
      const line = raw.toString('latin1', start, Math.min(end, start + MAX_BOUNDARY_LINE_CHARS)).replace(/\r?\n$/, '');
      if (line === '') {
        const multipart = multipartOf(header);
        if (multipart !== null && open.length < MAX_MIME_DEPTH) open.push(multipart);
        header = null;
      } else header.push(line);
    }
    start = end;
  }
  if (kept === 0) return raw;
  return Buffer.concat([...pieces, raw.subarray(kept)]);
}

const MAX_BOUNDARY_LINE_CHARS = 4000;

interface Multipart {
  boundary: string;
  isProtected: boolean;
}

interface Delimiter {
  /** Whose it is, among the multiparts that are open. */
  depth: number;
  isClosing: boolean;
  hasBlanks: boolean;
  /** As it is to be written. */
  line: string;
}

function delimiterOf(line: string, open: readonly Multipart[]): Delimiter | null {
  const [written = '', lineEnd = ''] = [line.replace(/\r?\n$/, ''), /\r?\n$/.exec(line)?.[0]];
  const text = written.replace(/[ \t]+$/, '');
  for (let depth = open.length - 1; depth >= 0; depth -= 1) {
    const { boundary } = open[depth]!;
    const isClosing = text === `--${boundary}--`;
    if (isClosing || text === `--${boundary}`)
      return { depth, isClosing, hasBlanks: text !== written, line: text + lineEnd };
  }
  return null;
}

/** The multipart that a header declares (RFC 2046, section 5.1); null where its part is none. */
function multipartOf(header: readonly string[]): Multipart | null {
  const unfolded = header
    .join('\n')
    .replace(/\n[ \t]+/g, ' ')
    .split('\n');
  const type = unfolded.find((field) => MULTIPART.test(field));
  const match = type === undefined ? null : BOUNDARY.exec(type);
  const boundary = match?.[1]?.replace(/\\(.)/g, '$1') ?? match?.[2];
  return boundary === undefined ? null : { boundary: boundary.trimEnd(), isProtected: PROTECTED.test(type!) };
}

/** Where the header begins. */
function envelopeLineEnd(raw: Buffer): number {
  if (!/^>?From /.test(raw.toString('latin1', 0, 6))) return 0;
  const newline = raw.indexOf(0x0a);
  return newline === -1 ? 0 : newline + 1;
}
