import { addressKey, domainOf } from '../message/address.js';
import { subjectRoot } from './subject.js';

/** A copy that a mail may belong to. */
export interface Candidate {
  copyId: number;
  messageId: number;
  /** Whose it is, by the person’s main address where several were merged. */
  personId: number;
  address: string;
  messageIdHeader: string;
}

/** By what a report names the copy that it is about. */
export interface ReportSigns {
  /** Message-IDs, the surest first. */
  about: readonly string[];
  /** Addresses by which the recipient is named. */
  addresses: readonly string[];
  /** Whose these addresses are. */
  personIds: ReadonlySet<number>;
  /** Copies whose image or links stand in what it returns. */
  quotedCopyIds: readonly number[];
  /** Whether it may name an address elsewhere, to which the mail was forwarded: servers may, people’s programs not. */
  mayBeElsewhere: boolean;
}

/**
 * The copy that a report is about. It must name the copy’s Message-ID, or return an address that is the copy’s alone, so
 * that one who knows neither can say nothing of it; where a Message-ID is one copy’s alone, it may name the recipient by
 * another address: that to which mail is forwarded.
 */
export function copyOfReport(
  { about, addresses, personIds, quotedCopyIds, mayBeElsewhere }: ReportSigns,
  candidates: readonly Candidate[],
): Candidate | null {
  const keys = new Set(addresses.map(addressKey));
  const named = about.map((id) => candidates.filter(({ messageIdHeader }) => messageIdHeader === id));
  const exact =
    named.flat().find(({ address }) => keys.has(addressKey(address))) ??
    named.flat().find(({ personId }) => personIds.has(personId)) ??
    named.flat().find(({ copyId }) => quotedCopyIds.includes(copyId));
  if (exact) return exact;
  const domains = new Set(addresses.map(domainOf));
  const alone = named.find(
    (copies) => copies.length === 1 && (mayBeElsewhere || domains.has(domainOf(copies[0]!.address))),
  );
  if (alone) return alone[0]!;
  const quoted = candidates.filter(({ copyId }) => quotedCopyIds.includes(copyId));
  return quoted.find(({ address }) => keys.has(addressKey(address))) ?? quoted[0] ?? null;
}

/** By what a reply tells to which message it belongs, and whose it is. */
export interface ReplySigns {
  /** Message-IDs that it follows, the nearest first. */
  references: readonly string[];
  /** Addresses of its writer: From, then those by which programs and lists keep it. */
  addresses: readonly string[];
  /** Whose these addresses are. */
  personIds: ReadonlySet<number>;
  /** Copies whose image or links it quotes, the nearest first. */
  quotedCopyIds: readonly number[];
}

/** What a reply belongs to. */
export interface Whose {
  messageId: number;
  /** Null where it may be any recipient’s. */
  copyId: number | null;
  /** Why it is only probable, as a sentence without its full stop; null where it is sure. */
  doubt: string | null;
}

/**
 * Whose reply it is, by the message that it follows or quotes: the writer’s own copy before all others, then the copy that is
 * named or quoted alone, then the one that went to the same company. Never simply the first.
 *
 * @param candidates the copies that are named or quoted, and all others of their messages
 * @returns null where it follows and quotes nothing of these
 */
export function whoseReply(signs: ReplySigns, candidates: readonly Candidate[]): Whose | null {
  const { references, addresses, personIds, quotedCopyIds } = signs;
  const id = references.find((one) => candidates.some(({ messageIdHeader }) => messageIdHeader === one));
  const quoted = quotedCopyIds.flatMap((copyId) => candidates.filter((one) => one.copyId === copyId));
  const named = candidates.filter(({ messageIdHeader }) => messageIdHeader === id);
  const messageId = (named[0] ?? quoted[0])?.messageId;
  if (messageId === undefined) return null;

  const all = candidates.filter((one) => one.messageId === messageId);
  const isWriters = ({ personId, address }: Candidate) =>
    personIds.has(personId) || addresses.some((one) => addressKey(one) === addressKey(address));
  const own = named.find(isWriters) ?? all.find(isWriters);
  if (own) return { messageId, copyId: own.copyId, doubt: null };

  const [from = ''] = addresses;
  const ofCompany = all.filter(({ address }) => addresses.some((one) => domainOf(one) === domainOf(address)));
  const onlyNamed = named.length === 1 ? named[0] : undefined;
  // An assistant, or another address of the same company, with a Message-ID that one copy alone has.
  if (onlyNamed && ofCompany.includes(onlyNamed)) return { messageId, copyId: onlyNamed.copyId, doubt: null };
  const likely =
    onlyNamed ??
    quoted.find((one) => one.messageId === messageId) ??
    (ofCompany.length === 1 ? ofCompany[0] : undefined) ??
    (all.length === 1 ? all[0] : undefined);
  return likely
    ? {
        messageId,
        copyId: likely.copyId,
        doubt: `It comes from ${from}, and replies to what went to ${likely.address}`,
      }
    : {
        messageId,
        copyId: null,
        doubt: `It comes from ${from}, who did not get this message: it may be any recipient’s`,
      };
}

/** A copy to the writer of a mail that names none of ours. */
export interface RecentCopy extends Candidate {
  subject: string;
  sentAt: number;
}

/** What somebody replies to who names nothing: the newest message to them of the same subject. */
export function repliedBySubject(subject: string, recent: readonly RecentCopy[]): Whose | null {
  const root = subjectRoot(subject);
  const alike = root === '' ? undefined : recent.find((one) => subjectRoot(one.subject) === root);
  if (!alike) return null;
  const doubt = 'It names none of your messages: its sender and subject suggest this one';
  return { messageId: alike.messageId, copyId: alike.copyId, doubt };
}
