import { randomBytes, scrypt, timingSafeEqual, type ScryptOptions } from 'node:crypto';

/** Cost by OWASP's advice for scrypt (N=2^17, r=8, p=1): about a third of a second and 128 MiB. */
const COST: ScryptOptions = { N: 2 ** 17, r: 8, p: 1, maxmem: 256 * 2 ** 20 };
const HASH_BYTES = 32;

/** Hashes a passphrase with scrypt (RFC 7914): “salt.hash” in base64url. */
export async function hashPassphrase(passphrase: string): Promise<string> {
  const salt = randomBytes(16);
  return `${salt.toString('base64url')}.${(await deriveKey(passphrase, salt)).toString('base64url')}`;
}

/** Compares in constant time. */
export async function isPassphrase(passphrase: string, stored: string): Promise<boolean> {
  const [salt = '', hash = ''] = stored.split('.');
  const expected = Buffer.from(hash, 'base64url');
  const given = await deriveKey(passphrase, Buffer.from(salt, 'base64url'));
  return expected.length === given.length && timingSafeEqual(expected, given);
}

/** A key of 32 bytes out of a passphrase. */
export function deriveKey(passphrase: string, salt: Buffer): Promise<Buffer> {
  return new Promise((resolve, reject) => {
    scrypt(passphrase.normalize('NFKC'), salt, HASH_BYTES, COST, (error, key) =>
      error ? reject(error) : resolve(key),
    );
  });
}
