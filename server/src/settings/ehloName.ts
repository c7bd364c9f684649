import { isIP } from 'node:net';
import { domainToASCII } from 'node:url';
import { domainOf } from '@kiraku/core/message';

/**
 * By what name Kiraku greets mail servers (RFC 5321, section 4.1.1.1): that of its public address where it has one, else the
 * sender's domain. The machine's own name tells recipients' servers about somebody's home.
 */
export function ehloName(publicUrl: string, senderAddress: string): string {
  const { hostname } = new URL(publicUrl);
  const isName = isIP(hostname.replace(/[[\]]/g, '')) === 0 && hostname.includes('.');
  return isName ? hostname : domainToASCII(domainOf(senderAddress));
}
