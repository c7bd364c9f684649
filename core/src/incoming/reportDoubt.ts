import type { ReceivedMail } from './received.js';

/** What the server that took the mail in says of its sender (RFC 8601, section 2.2), above all that came with it. */
const FAILED_AUTHENTICATION = /\b(dmarc|spf)\s*=\s*fail\b/i;

/**
 * Why a delivery report cannot come from a mail server, or null where it may. Whoever got a mail knows its Message-ID, and
 * could write that it was not delivered.
 *
 * @example reportDoubt({ returnPath: 'marit@lindqvist.example', headers: new Map() })
 * // 'It came from an address, but mail servers send reports without one'
 */
export function reportDoubt({ returnPath, headers }: Pick<ReceivedMail, 'returnPath' | 'headers'>): string | null {
  // RFC 3464, section 2: the envelope sender of a report must be null. Not every way by which mail comes tells of it.
  if (returnPath !== null && returnPath !== '')
    return 'It came from an address, but mail servers send reports without one';
  return FAILED_AUTHENTICATION.test(headers.get('authentication-results') ?? '')
    ? 'Your mail server says that its sender is forged'
    : null;
}
