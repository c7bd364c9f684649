import { addressKey, domainOf } from './address.js';

/**
 * Whether one text becomes the other by one character that was added, left out, or mistaken, or by two neighbours that were
 * swapped: the slips of a hand that types (Damerau, “A technique for computer detection and correction of spelling errors”,
 * 1964). In linear time.
 */
export function isOneSlip(one: string, other: string): boolean {
  const [short, long] = one.length <= other.length ? [one, other] : [other, one];
  if (short === long || long.length - short.length > 1) return false;
  let at = 0;
  while (at < short.length && short[at] === long[at]) at += 1;
  if (short.length < long.length) return short.slice(at) === long.slice(at + 1);
  const isSwapped = short[at] === long[at + 1] && short[at + 1] === long[at];
  return short.slice(at + 1) === long.slice(at + 1) || (isSwapped && short.slice(at + 2) === long.slice(at + 2));
}

/** Domains that are compared with all known ones: of a list with more, nobody reads what is said of each. */
const MAX_DOMAINS_COMPARED = 100;

/**
 * What unknown addresses were perhaps meant to be: the same, at a domain that is known and one slip away. Those whose own
 * domain is known, or that nothing is near to, are left out.
 *
 * @param known the domains at which people are, in lower case
 */
export function lookalikesOf(addresses: readonly string[], known: readonly string[]): Map<string, string> {
  const domains = [...new Set(addresses.map(domainOf))].slice(0, MAX_DOMAINS_COMPARED);
  const meant = new Map(domains.map((domain) => [domain, domainMeant(domain, known)]));
  return new Map(
    addresses.flatMap((address): [string, string][] => {
      const domain = domainOf(address);
      const near = meant.get(domain);
      return near ? [[address, `${addressKey(address).slice(0, -domain.length)}${near}`]] : [];
    }),
  );
}

function domainMeant(domain: string, known: readonly string[]): string | undefined {
  if (known.includes(domain)) return undefined;
  return known.filter((one) => isOneSlip(domain, one)).sort()[0];
}
