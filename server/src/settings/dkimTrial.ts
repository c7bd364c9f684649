import { Resolver } from 'node:dns/promises';
import type { DkimView, Trial } from '@kiraku/core/contract';

const MAX_LOOKUP_MS = 4000;
const keyIn = (record: string) => /(?:^|;)\s*p=([^;]*)/.exec(record)?.[1]?.replace(/\s/g, '');

/**
 * Looks in the DNS whether the record of a signature is published (RFC 6376, section 3.6.2).
 *
 * @param servers name servers as “address:port”; those of the machine where none is named
 */
export async function tryDkim({ domain, selector, record }: DkimView, servers: string[] = []): Promise<Trial> {
  const name = `${selector}._domainkey.${domain}`;
  const resolver = new Resolver({ timeout: MAX_LOOKUP_MS, tries: 1 });
  if (servers.length > 0) resolver.setServers(servers);
  try {
    // A record longer than 255 octets comes in parts (RFC 6376, section 3.6.2.2).
    const published = (await resolver.resolveTxt(name)).map((parts) => parts.join(''));
    if (published.some((one) => keyIn(one) === keyIn(record)))
      return { ok: true, words: 'It works: the record is published, and mail servers can check your signature.' };
    return { ok: false, words: `There is another record at ${name}. Replace it with the one above.` };
  } catch (error) {
    const { code } = error as { code?: string };
    return code === 'ENOTFOUND' || code === 'ENODATA'
      ? { ok: false, words: `There is no record at ${name} yet. A new one can take some hours to show.` }
      : { ok: false, words: `The DNS could not be asked (${code}). Check the network, and try again.` };
  }
}
