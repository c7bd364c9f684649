import { resolveSrv } from 'node:dns/promises';
import { Injectable } from '@nestjs/common';
import type { AccountGuess, SmtpSecurity } from '@kiraku/core/contract';
import { addressProblem, domainOf } from '@kiraku/core/message';

/** RFC 6186, section 3.1, and RFC 8314, section 5.1: the service names, the encrypted one first. */
const SERVICES: [service: string, security: SmtpSecurity][] = [
  ['_submissions._tcp', 'tls'],
  ['_submission._tcp', 'starttls'],
];
const MAX_LOOKUP_MS = 4000;

/** Finds the outgoing server that an address's own domain announces in the DNS. */
@Injectable()
export class GuessService {
  /** Null where it announces none. */
  async guess(address: string): Promise<AccountGuess | null> {
    if (addressProblem(address)) return null;
    for (const [service, smtpSecurity] of SERVICES) {
      const [best] = await announced(`${service}.${domainOf(address)}`);
      if (best) return { smtpHost: best.name, smtpPort: best.port, smtpSecurity, smtpUser: address };
    }
    return null;
  }
}

/** Lowest priority first, then the greatest weight (RFC 2782); a single "." says that there is no such service. */
async function announced(name: string): Promise<{ name: string; port: number }[]> {
  const none = new Promise<never[]>((resolve) => setTimeout(() => resolve([]), MAX_LOOKUP_MS).unref());
  const records = await Promise.race([resolveSrv(name).catch(() => []), none]);
  return records
    .filter((record) => record.name !== '' && record.name !== '.')
    .sort((a, b) => a.priority - b.priority || b.weight - a.weight);
}
