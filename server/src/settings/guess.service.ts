import { resolveSrv } from 'node:dns/promises';
import { connect } from 'node:net';
import { Injectable } from '@nestjs/common';
import type { AccountGuess, SmtpSecurity } from '@kiraku/core/contract';
import { addressProblem, domainOf } from '@kiraku/core/message';

/** RFC 6186, section 3.1, and RFC 8314, section 5.1: the service names, the encrypted one first. */
const SERVICES: [service: string, security: SmtpSecurity][] = [
  ['_submissions._tcp', 'tls'],
  ['_submission._tcp', 'starttls'],
];
const MAX_LOOKUP_MS = 4000;

/** What outgoing servers are often called, at ports that are for them alone (RFC 8314, section 3.3; RFC 6409, section 3.1). */
const COMMON_NAMES = ['smtp', 'mail'];
const COMMON_PORTS: [port: number, security: SmtpSecurity][] = [
  [465, 'tls'],
  [587, 'starttls'],
];
const MAX_CONNECT_MS = 3000;

/** Finds the outgoing server that an address's own domain announces in the DNS, or that is called as most are. */
@Injectable()
export class GuessService {
  /** Null where there is none. */
  async guess(address: string): Promise<AccountGuess | null> {
    if (addressProblem(address)) return null;
    const domain = domainOf(address);
    for (const [service, smtpSecurity] of SERVICES) {
      const [best] = await announced(`${service}.${domain}`);
      if (best) return { smtpHost: best.name, smtpPort: best.port, smtpSecurity, smtpUser: address };
    }
    const common = COMMON_NAMES.flatMap((name) => COMMON_PORTS.map((port) => [`${name}.${domain}`, ...port] as const));
    const listening = await Promise.all(common.map(([host, port]) => listens(host, port)));
    const [smtpHost, smtpPort, smtpSecurity] = common[listening.indexOf(true)] ?? [];
    if (smtpHost === undefined) return null;
    return { smtpHost, smtpPort: smtpPort!, smtpSecurity: smtpSecurity!, smtpUser: address };
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

/** Whether something accepts connections there. */
function listens(host: string, port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const socket = connect({ host, port, timeout: MAX_CONNECT_MS });
    const give = (isListening: boolean) => {
      socket.destroy();
      resolve(isListening);
    };
    socket.once('connect', () => give(true));
    socket.once('error', () => give(false));
    socket.once('timeout', () => give(false));
  });
}
