import { randomBytes } from 'node:crypto';
import { deriveKey } from '../session/passphrase.js';
import { openWith, sealWith } from '../settings/secrets.js';

/** What cannot be opened with the passphrase that was given. */
export class WrongPassphraseError extends Error {}

/** Seals a text with a passphrase (scrypt, then AES-256-GCM): “salt.sealed” in base64url. */
export async function sealWithPassphrase(passphrase: string, text: string): Promise<string> {
  const salt = randomBytes(16);
  return `${salt.toString('base64url')}.${sealWith(await deriveKey(passphrase, salt), text)}`;
}

/** @throws WrongPassphraseError where it was sealed with another, or changed */
export async function openWithPassphrase(passphrase: string, sealed: string): Promise<string> {
  const [salt = '', rest = ''] = sealed.split('.');
  const key = await deriveKey(passphrase, Buffer.from(salt, 'base64url'));
  try {
    return openWith(key, rest);
  } catch {
    throw new WrongPassphraseError('This is not the passphrase of the backup.');
  }
}
