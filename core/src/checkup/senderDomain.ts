import type { DnsRecord, Finding } from '../contract/index.js';
import { attention, failing, fine } from './finding.js';

const txt = (name: string, value: string): DnsRecord => ({ name, type: 'TXT', value });

/**
 * What the SPF record of a sender's domain says (RFC 7208).
 *
 * @param records all TXT records of the domain
 * @param outgoingHost the server that mail leaves by, for the record to suggest
 */
export function spfFinding(domain: string, records: readonly string[], outgoingHost: string): Finding {
  // Section 4.5: the version, and then a blank or the end.
  const found = records.filter((record) => /^v=spf1( |$)/i.test(record));
  const outgoing = /^[\d.]+$/.test(outgoingHost) ? `ip4:${outgoingHost}` : `a:${outgoingHost}`;
  const suggested = [txt(domain, `v=spf1 ${outgoing} mx ~all`)];
  if (found.length === 0)
    return failing(
      `${domain} does not say which servers send its mail (SPF).`,
      'Publish a record. If your provider names one of its own, take that.',
      suggested,
    );
  // Section 4.5: more than one is an error, and none of them holds.
  if (found.length > 1)
    return failing(`${domain} has ${found.length} SPF records, so that none is valid.`, 'Make one record of them.');
  const [record] = found as [string];
  const terms = record.toLowerCase().split(/ +/).slice(1);
  if (terms.includes('+all') || terms.includes('all'))
    return attention(`The SPF record of ${domain} lets every server send its mail.`, 'End it with ~all.');
  if (!terms.some((term) => /^[-~?]all$/.test(term) || term.startsWith('redirect=')))
    return attention(`The SPF record of ${domain} has no end.`, 'End it with ~all.');
  // Section 4.6.4.
  const lookups = terms.filter((term) => /^[-~?+]?(include|a|mx|ptr|exists)\b|^redirect=/.test(term)).length;
  if (lookups > MAX_SPF_LOOKUPS)
    return failing(`The SPF record of ${domain} asks for more than ${MAX_SPF_LOOKUPS} others.`, 'Shorten it.');
  return fine(`${domain} says which servers send its mail: ${record}`);
}

const MAX_SPF_LOOKUPS = 10;

/**
 * A domain and those above it, up to two labels.
 *
 * @example withThoseAbove('sales.reed.co.example') // ['sales.reed.co.example', 'reed.co.example', 'co.example']
 */
export function withThoseAbove(domain: string): string[] {
  const labels = domain.split('.');
  return labels.slice(0, Math.max(1, labels.length - 1)).map((_label, index) => labels.slice(index).join('.'));
}

/**
 * What the DMARC record of a sender's domain says (RFC 7489).
 *
 * @param records all TXT records of `_dmarc.` and the domain
 */
export function dmarcFinding(domain: string, records: readonly string[], postmaster: string): Finding {
  const name = `_dmarc.${domain}`;
  // Section 6.6.3: those that do not begin so are not looked at; several are as none.
  const found = records.filter((record) => /^v=DMARC1(;|\s|$)/.test(record));
  if (found.length !== 1)
    return attention(
      found.length === 0
        ? `${domain} does not say what becomes of mail in its name that others send (DMARC).`
        : `${domain} has ${found.length} DMARC records, so that none is valid.`,
      'Publish one record. Large providers ask for it.',
      [txt(name, `v=DMARC1; p=none; rua=mailto:${postmaster}`)],
    );
  const policy = /;\s*p\s*=\s*(none|quarantine|reject)\s*(;|$)/i.exec(found[0]!)?.[1]?.toLowerCase();
  if (policy === undefined)
    return failing(`The DMARC record of ${domain} has no policy.`, 'Add one: p=none, p=quarantine or p=reject.');
  return fine(`${domain} says what becomes of mail in its name that others send: ${policy}.`);
}
