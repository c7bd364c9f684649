import { createHash } from 'node:crypto';
import { MINUTE } from '@kiraku/core/time';

/** The key of the setting that holds the invitations that the desk gave out, for the public site to read. */
export const INVITATIONS_KEY = 'ownBrowsers.invitations';
/** So long an invitation is good. */
export const INVITED_FOR_MS = 10 * MINUTE;

/** An address of the public site that makes one browser known as the sender’s own. */
export interface Invitation {
  /** Of its token: whoever reads the database can use none. */
  sha256: string;
  madeAt: number;
}

export function sha256Of(token: string): string {
  return createHash('sha256').update(token).digest('base64url');
}
