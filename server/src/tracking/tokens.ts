import { randomBytes } from 'node:crypto';
import { TOKEN_BYTES } from '@kiraku/core/tracking';

/** An unguessable name for a public address. */
export function newToken(): string {
  return randomBytes(TOKEN_BYTES).toString('base64url');
}
