import { addressKey, domainOf } from '../message/address.js';

/** A copy that a mail may belong to. */
export interface Candidate {
  copyId: number;
  messageId: number;
  address: string;
  messageIdHeader: string;
}

/**
 * The copy that a report is about: it must name the copy’s Message-ID and its recipient, so that one who knows neither
 * can say nothing of it.
 *
 * @param about Message-IDs, the surest first
 * @param addresses by which the recipient is named
 */
export function copyOfReport(
  about: readonly string[],
  addresses: readonly string[],
  candidates: readonly Candidate[],
): Candidate | null {
  const keys = new Set(addresses.map(addressKey));
  for (const id of about) {
    const named = candidates.filter(({ messageIdHeader }) => messageIdHeader === id);
    const exact = named.find(({ address }) => keys.has(addressKey(address)));
    if (exact) return exact;
    // Another address of the same house, where the Message-ID is one copy’s alone.
    const domains = new Set(addresses.map(domainOf));
    if (named.length === 1 && domains.has(domainOf(named[0]!.address))) return named[0]!;
  }
  return null;
}

/** The copy that an answer follows by its references, that of its writer before others; null where it names none. */
export function copyOfAnswer(
  references: readonly string[],
  from: string,
  candidates: readonly Candidate[],
): Candidate | null {
  for (const id of references) {
    const named = candidates.filter(({ messageIdHeader }) => messageIdHeader === id);
    const own = named.find(({ address }) => addressKey(address) === addressKey(from));
    if (own ?? named[0]) return own ?? named[0]!;
  }
  return null;
}

const PREFIX =
  /^\s*((re|aw|antw|sv|vs|fwd?|wg|tr|rv|odp|res)(\[\d+\])?\s*:|automatic reply\s*:|automatische antwort\s*:)\s*/i;

/** A subject without what programs put before it, for telling whether one answers another. */
export function subjectRoot(subject: string): string {
  let root = subject.normalize('NFC').trim();
  while (PREFIX.test(root)) root = root.replace(PREFIX, '');
  return root.replace(/\s+/g, ' ').toLowerCase();
}
