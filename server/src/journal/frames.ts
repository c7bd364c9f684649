import { crc32 } from 'node:zlib';

/**
 * A frame of the journal: mark (2 octets), length of the payload (4), CRC-32 of sequence and payload (4; as in
 * RFC 1952, section 8), sequence (6), payload; numbers are big-endian.
 */
const MARK = 0x4b6a;
const LENGTH_AT = 2;
const CHECKSUM_AT = 6;
const SEQUENCE_AT = 10;
const FRAME_HEADER_BYTES = 16;

/** A longer payload is taken for damage. */
const MAX_PAYLOAD_BYTES = 128 * 1024;
export const MAX_FRAME_BYTES = FRAME_HEADER_BYTES + MAX_PAYLOAD_BYTES;

export interface Frame {
  /** Counted from 1 within a run of the journal; none comes twice. */
  sequence: number;
  payload: Buffer;
  /** Where it ends, from the beginning of what was read. */
  end: number;
}

/** What some bytes of a journal hold. */
export interface Frames {
  frames: Frame[];
  /** Where the last whole frame ends. */
  end: number;
  /** Bytes after that which are no frame: torn off, or not written whole yet. Zeros are not written at all. */
  tornBytes: number;
  /** Bytes between whole frames that are none. */
  damagedBytes: number;
}

/** Puts texts into frames, numbered from a sequence on. */
export function framesOf(texts: readonly string[], firstSequence: number): Buffer {
  const lengths = texts.map((text) => Buffer.byteLength(text));
  const bytes = Buffer.allocUnsafe(lengths.reduce((sum, length) => sum + FRAME_HEADER_BYTES + length, 0));
  let at = 0;
  texts.forEach((text, index) => {
    const end = at + FRAME_HEADER_BYTES + lengths[index]!;
    bytes.writeUInt16BE(MARK, at);
    bytes.writeUInt32BE(lengths[index]!, at + LENGTH_AT);
    bytes.writeUIntBE(firstSequence + index, at + SEQUENCE_AT, FRAME_HEADER_BYTES - SEQUENCE_AT);
    bytes.write(text, at + FRAME_HEADER_BYTES, 'utf8');
    bytes.writeUInt32BE(crc32(bytes.subarray(at + SEQUENCE_AT, end)), at + CHECKSUM_AT);
    at = end;
  });
  return bytes;
}

/**
 * Reads the whole frames of some bytes that begin with one.
 *
 * @param isWritten whether nobody writes there any more: then what is damaged between frames is passed over. A write that is
 *   under way may be seen in any order of its parts, so that a gap is none yet
 */
export function readFrames(bytes: Buffer, isWritten: boolean): Frames {
  const frames: Frame[] = [];
  let end = 0;
  let damagedBytes = 0;
  let at = 0;
  while (at < bytes.length) {
    const frame = frameAt(bytes, at);
    if (!frame && !isWritten) break;
    if (!frame) {
      at = nextMark(bytes, at + 1);
      continue;
    }
    damagedBytes += at - end;
    frames.push(frame);
    at = end = frame.end;
  }
  return { frames, end, tornBytes: writtenBytes(bytes.subarray(end)), damagedBytes };
}

function frameAt(bytes: Buffer, at: number): Frame | null {
  const payloadAt = at + FRAME_HEADER_BYTES;
  if (payloadAt > bytes.length || bytes.readUInt16BE(at) !== MARK) return null;
  const length = bytes.readUInt32BE(at + LENGTH_AT);
  const end = payloadAt + length;
  if (length > MAX_PAYLOAD_BYTES || end > bytes.length) return null;
  if (crc32(bytes.subarray(at + SEQUENCE_AT, end)) !== bytes.readUInt32BE(at + CHECKSUM_AT)) return null;
  const sequence = bytes.readUIntBE(at + SEQUENCE_AT, FRAME_HEADER_BYTES - SEQUENCE_AT);
  return { sequence, payload: bytes.subarray(payloadAt, end), end };
}

/** Up to the last that is not zero. */
function writtenBytes(bytes: Buffer): number {
  let length = bytes.length;
  while (length > 0 && bytes[length - 1] === 0) length -= 1;
  return length;
}

/** Where a frame may begin, from a position on. */
function nextMark(bytes: Buffer, from: number): number {
  const at = bytes.indexOf(Buffer.from([MARK >> 8, MARK & 0xff]), from);
  return at === -1 ? bytes.length : at;
}
