import { addressKey, domainOf } from './address.js';

/**
 * Whether one text becomes the other by one letter that was added, left out, or mistaken, or by two neighbours that were
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

/**
 * The address that an unknown one was perhaps meant to be: the same, at a domain that is known and one slip away. Null
 * where its own domain is known, or nothing is near.
 *
 * @param domains those that somebody known has an address at, in lower case
 */
export function lookalikeOf(address: string, domains: Iterable<string>): string | null {
  const domain = domainOf(address);
  const near: string[] = [];
  for (const known of domains) {
    if (known === domain) return null;
    if (isOneSlip(domain, known)) near.push(known);
  }
  const [first] = near.sort();
  return first ? `${addressKey(address).slice(0, -domain.length)}${first}` : null;
}
