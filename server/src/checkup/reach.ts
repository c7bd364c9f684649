import { isIP } from 'node:net';
import { connect } from 'node:tls';
import type { Finding } from '@kiraku/core/contract';
import { attention, certificateFinding, failing, fine, notInUse } from '@kiraku/core/checkup';
import type { Secrets } from '../settings/secrets.js';
import { tlsWords } from '../settings/tlsWords.js';
import { askReached, proofOf, type Reached } from '../tracking/reachCheck.js';

const LOOPBACK = /^(localhost|127\.|\[::1\]$)/;
const HTTPS_PORT = 443;
const MAX_REACHED_CHARS = 10_000;

/** Why an address cannot be reached, and what to do: by the code of the error, in the order of the way there. */
const CAUSES: readonly [code: RegExp, detail: (host: string, port: string) => string, advice: string][] = [
  [
    /ENOTFOUND|EAI_AGAIN|ENODATA/,
    (host) => `The DNS does not know ${host}.`,
    'Publish an A or AAAA record for it that names this machine, or the proxy in front of it.',
  ],
  [
    /ECONNREFUSED/,
    (host, port) => `Nothing listens at port ${port} of ${host}.`,
    'Start the proxy there, or let the router pass this port on to this machine.',
  ],
  [
    /ETIMEDOUT|ECONNRESET|EHOSTUNREACH|ENETUNREACH|UND_ERR|TimeoutError|AbortError/,
    (host, port) => `Port ${port} of ${host} does not respond.`,
    'Let firewall and router pass this port on to this machine.',
  ],
];

/** An address for a check of one's own, which only the public site of the same data folder answers. */
export function reachUrl(publicUrl: string, secrets: Secrets): string {
  return `${publicUrl}/health?check=${askReached(secrets)}`;
}

/** What the public address answers to this machine. */
export async function reach(
  publicUrl: string,
  secrets: Secrets,
  signal: AbortSignal,
): Promise<{ publicAddress: Finding; proxy: Finding }> {
  const url = reachUrl(publicUrl, secrets);
  const { hostname, port, protocol } = new URL(publicUrl);
  const proxyUnknown = notInUse('It is checked where the public address can be reached.');
  try {
    const response = await fetch(url, { redirect: 'manual', signal });
    const body = await replyOf(response);
    const expected = proofOf(secrets, new URL(url).searchParams.get('check')!);
    if (body?.proof !== expected)
      return {
        publicAddress: failing(
          `Something else responds at ${publicUrl} (status ${response.status}).`,
          'Let the proxy pass all paths on to the port of the public site, with their query.',
        ),
        proxy: proxyUnknown,
      };
    return { publicAddress: reached(publicUrl), proxy: proxyFinding(body?.unnamedProxy ?? null) };
  } catch (error) {
    const shownPort = port || (protocol === 'https:' ? String(HTTPS_PORT) : '80');
    return { publicAddress: problem(error, hostname, shownPort), proxy: proxyUnknown };
  }
}

/** What was replied, if it is short and JSON: whoever has the name may reply without end. */
async function replyOf({ body }: Response): Promise<Partial<Reached> | null> {
  let text = '';
  for await (const chunk of body ?? []) {
    text += Buffer.from(chunk).toString('latin1');
    if (text.length > MAX_REACHED_CHARS) return null;
  }
  try {
    return JSON.parse(text) as Partial<Reached>;
  } catch {
    return null;
  }
}

function reached(publicUrl: string): Finding {
  const { hostname, protocol } = new URL(publicUrl);
  if (LOOPBACK.test(hostname))
    return attention(
      `${publicUrl} can be reached from this machine alone: recipients’ programs load nothing from it.`,
      'Give this machine a public name, and set KIRAKU_PUBLIC_URL to it.',
    );
  if (protocol === 'http:')
    return attention(
      `${publicUrl} responds, but not encrypted.`,
      'Put TLS before it: many programs warn of such links.',
    );
  return fine(`${publicUrl} can be reached.`);
}

function proxyFinding(unnamed: string | null): Finding {
  if (unnamed === null) return fine('Whose network an open comes from can be seen.');
  return failing(
    `A proxy at ${unnamed} passes requests on, and all activity seems to come from it.`,
    'Name it in Settings, What counts, as a proxy.',
  );
}

function problem(error: unknown, host: string, port: string): Finding {
  const { name, message, cause } = error as Error & { cause?: { code?: string; message?: string } };
  const code = cause?.code ?? name;
  const known = CAUSES.find(([pattern]) => pattern.test(code));
  if (known) return failing(known[1](host, port), known[2]);
  return failing(
    `The connection to ${host} could not be encrypted: ${tlsWords(cause?.message ?? message)}.`,
    'Give the proxy a certificate for this name.',
  );
}

/** How long the certificate of a public address is still valid. */
export async function publicCertificate(publicUrl: string, now: number, signal: AbortSignal): Promise<Finding> {
  const { hostname, port, protocol } = new URL(publicUrl);
  if (protocol !== 'https:') return notInUse('The public address is not encrypted.');
  const validUntil = await certificateEnd(hostname, Number(port || HTTPS_PORT), signal);
  return certificateFinding(hostname, validUntil, now, 'Have it renewed where TLS ends.');
}

/** @throws where nobody answers there by TLS */
function certificateEnd(host: string, port: number, signal: AbortSignal): Promise<number> {
  return new Promise((resolve, reject) => {
    // That it is for this name, and that somebody vouches for it, is seen where the address is asked.
    const socket = connect({ host, port, rejectUnauthorized: false, ...(isIP(host) === 0 && { servername: host }) });
    const give = (act: () => void) => {
      signal.removeEventListener('abort', late);
      socket.destroy();
      act();
    };
    const late = () => give(() => reject(new Error('It did not respond in time')));
    signal.addEventListener('abort', late);
    socket.once('secureConnect', () => {
      const { valid_to: end } = socket.getPeerCertificate();
      give(() => resolve(Date.parse(end)));
    });
    socket.once('error', (error) => give(() => reject(error)));
  });
}
