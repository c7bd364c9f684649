import { randomBytes, timingSafeEqual } from 'node:crypto';
import type { Secrets } from '../settings/secrets.js';

/** What the public site answers to a check of Kiraku's own. */
export interface Reached {
  /** Says that it is this one's public site, and no other server. */
  proof: string;
  /** A proxy that passes requests on and is not named: whose network address is that of everybody then; null where there is none. */
  unnamedProxy: string | null;
}

const NONCE_BYTES = 12;
const FORM = /^([\w-]{16})\.([\w-]{43})$/;

/** A question that the public site of the same data folder answers, and no other: it goes into the address. */
export function askReached(secrets: Secrets): string {
  const nonce = randomBytes(NONCE_BYTES).toString('base64url');
  return `${nonce}.${secrets.mark(`reach ${nonce}`)}`;
}

/** The proof that answers a question; null where it is none of ours. */
export function proofOf(secrets: Secrets, question: string): string | null {
  const [, nonce, mark] = FORM.exec(question) ?? [];
  if (nonce === undefined || mark === undefined) return null;
  const isOurs = timingSafeEqual(Buffer.from(mark), Buffer.from(secrets.mark(`reach ${nonce}`)));
  return isOurs ? secrets.mark(`reached ${nonce}`) : null;
}
