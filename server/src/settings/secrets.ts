import { createCipheriv, createDecipheriv, createHmac, randomBytes } from 'node:crypto';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Config } from '../environment/config.js';

const KEY_BYTES = 32;
/** The file of the key in a data folder. */
export const KEY_NAME = 'key';
const NONCE_BYTES = 12;
const TAG_BYTES = 16;

/** Encrypts what must not lie open in the database (AES-256-GCM) with a key file beside it, readable by its owner only. */
export class Secrets {
  private readonly key: Buffer;

  constructor(config: Pick<Config, 'dataDir'>) {
    this.key = readOrMakeKey(config);
  }

  /** Seals a text. */
  seal(text: string): string {
    return sealWith(this.key, text);
  }

  /** A mark of a text (HMAC-SHA256, in base64url): always the same, and nobody without the key finds out which text. */
  mark(text: string): string {
    return createHmac('sha256', this.key).update(text).digest('base64url');
  }

  /** Opens what {@link seal} made. Throws where it was changed, or sealed with another key. */
  open(sealed: string): string {
    return openWith(this.key, sealed);
  }
}

/** Seals a text with a key of 32 bytes; the outcome is base64url of nonce, tag and cipher text. */
export function sealWith(key: Buffer, text: string): string {
  const nonce = randomBytes(NONCE_BYTES);
  const cipher = createCipheriv('aes-256-gcm', key, nonce);
  const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
  return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64url');
}

/** Opens what {@link sealWith} made. Throws where it was changed, or sealed with another key. */
export function openWith(key: Buffer, sealed: string): string {
  const bytes = Buffer.from(sealed, 'base64url');
  const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, NONCE_BYTES), { authTagLength: TAG_BYTES });
  decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
  return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]).toString('utf8');
}

/** The key of a data folder. */
export function readOrMakeKey({ dataDir }: Pick<Config, 'dataDir'>): Buffer {
  const file = join(dataDir, KEY_NAME);
  mkdirSync(dataDir, { recursive: true, mode: 0o700 });
  try {
    writeFileSync(file, randomBytes(KEY_BYTES), { mode: 0o600, flag: 'wx', flush: true });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  const key = readFileSync(file);
  if (key.length !== KEY_BYTES)
    throw new Error(
      `The key file ${file} is damaged. Put the original back, or remove it and enter the passwords again.`,
    );
  return key;
}
