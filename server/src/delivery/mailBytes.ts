import type { Piece } from '@kiraku/core/delivery';

/** A mail as it will leave. What it shares with the other copies of its message is kept once. */
export interface MailBytes {
  /** All of it, or what is this copy’s alone. */
  own: Buffer;
  /** How it is put together; null where `own` is all. */
  pieces: Piece[] | null;
}

/** How much at a time is given to whoever sends it. */
const CHUNK_BYTES = 64 * 1024;

/** @param shared the original; asked for only where there are pieces */
export function* chunksOf({ own, pieces }: MailBytes, shared: Buffer | null): Generator<Buffer> {
  for (const [from, start, end] of pieces ?? [['own', 0, own.length] as Piece]) {
    const source = from === 'own' ? own : shared!;
    for (let at = start; at < end; at += CHUNK_BYTES) yield source.subarray(at, Math.min(end, at + CHUNK_BYTES));
  }
}

export function wholeMail(mail: MailBytes, shared: Buffer | null): Buffer {
  return mail.pieces === null ? mail.own : Buffer.concat([...chunksOf(mail, shared)]);
}
