declare module 'http_ece' {
  import type { ECDH } from 'node:crypto';

  /** Opens a message of the content coding “aes128gcm” (RFC 8188) with keys agreed on as in RFC 8291. Throws where it was not made for them. */
  export function decrypt(body: Buffer, keys: { version: 'aes128gcm'; privateKey: ECDH; authSecret: Buffer }): Buffer;
}
