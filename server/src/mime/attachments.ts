import { Splitter, type MimeChunk, type MimeNode } from 'mailsplit';
import { decodePart } from './encoding.js';
import { isFile, LIMITS } from './split.js';

/** A file that travels in a mail, without its content-transfer-encoding. */
export interface Attachment {
  /** Which part of the mail it is, in their order. */
  part: number;
  name: string;
  bytes: Buffer;
}

/** The files of a mail (RFC 2183); what its message shows in its place is none. */
export async function attachmentsOf(raw: Buffer): Promise<Attachment[]> {
  const found = new Map<number, { node: MimeNode; chunks: Buffer[] }>();
  for await (const { item, part } of partsOf(raw)) {
    if (item.type === 'node' && isFile(item) && !isShownInPlace(item)) found.set(part, { node: item, chunks: [] });
    if (item.type === 'body') found.get(part)?.chunks.push(item.value);
  }
  return [...found].map(([part, { node, chunks }]) => ({
    part,
    name: node.filename || '',
    bytes: decodePart({ encoding: node.encoding, body: Buffer.concat(chunks) }),
  }));
}

/** A picture that the message refers to by its Content-ID (RFC 2392). */
function isShownInPlace({ disposition, contentType, parentNode }: MimeNode): boolean {
  if (disposition === 'attachment') return false;
  return /^image\//.test(contentType || '') || (parentNode !== false && parentNode.contentType === 'multipart/related');
}

/** The mail without some of its parts; everything else stays byte for byte. */
export async function withoutParts(raw: Buffer, parts: ReadonlySet<number>): Promise<Buffer> {
  const left: Buffer[] = [];
  for await (const { item, part } of partsOf(raw))
    if (!parts.has(part)) left.push(item.type === 'node' ? item.getHeaders() : item.value);
  return Buffer.concat(left);
}

/** A mail in pieces. The delimiter before a part belongs to it (RFC 2046, section 5.1.1). */
async function* partsOf(raw: Buffer): AsyncGenerator<{ item: MimeNode | MimeChunk; part: number }> {
  const splitter = new Splitter({ ignoreEmbedded: true, ...LIMITS });
  splitter.end(raw);
  const numbers = new Map<MimeNode, number>();
  for await (const item of splitter as AsyncIterable<MimeNode | MimeChunk>) {
    const node = item.type === 'node' ? item : item.node;
    if (!numbers.has(node)) numbers.set(node, numbers.size);
    yield { item, part: numbers.get(node)! };
  }
}
