import addressParser from 'email-addresses';
import type { Mailbox, Recipient } from '../contract/mailbox.js';
import { MESSAGE_LIMITS } from './limits.js';

/** What stands between semicolons and line breaks; a semicolon within quotation marks is a part of a name. */
const SEPARATED = /(?:"(?:[^"\\\r\n]|\\.)*"|[^\r\n;])+/g;

/** Either the mailboxes that were written, or what is wrong in words for the writer. */
export type ParsedAddresses = { mailboxes: Mailbox[] } | { problem: string };

/**
 * Reads one or many addresses as people type and paste them: separated by commas, semicolons or line breaks, each
 * `a@b` or `Name <a@b>` (RFC 5322, section 3.4; international addresses by RFC 6532). Duplicates are merged.
 */
export function parseAddresses(text: string): ParsedAddresses {
  const list = (text.match(SEPARATED) ?? [])
    .map((part) => part.trim().replace(/,+$/, ''))
    .filter((part) => part !== '')
    .join(', ');
  if (list === '') return { mailboxes: [] };

  const parsed = addressParser({ input: list, rfc6532: true, rejectTLD: false });
  if (!parsed) return { problem: `“${shorten(list)}” is not an email address. Write it like name@company.example.` };

  const mailboxes = new Map<string, Mailbox>();
  for (const entry of parsed.addresses) {
    if (entry.type === 'group') return { problem: 'Give the addresses one by one, without the name of a group.' };
    const problem = addressProblem(entry.address);
    if (problem) return { problem };
    const key = addressKey(entry.address);
    const name = (entry.name ?? '').trim().slice(0, MESSAGE_LIMITS.maxNameChars);
    if (!mailboxes.get(key)?.name) mailboxes.set(key, { name, address: entry.address });
  }
  return { mailboxes: [...mailboxes.values()] };
}

/**
 * A mailbox as it is typed (RFC 5322, section 3.4), to be read again by {@link parseAddresses}.
 *
 * @example mailboxText({ name: 'Oakes, Marit', address: 'marit@lindqvist.example' }) // "Oakes, Marit" <marit@…>
 */
export function mailboxText({ name, address }: Mailbox): string {
  if (name === '') return address;
  const quoted = /^[\p{L}\p{N} '-]+$/u.test(name) ? name : `"${name.replace(/["\\]/g, '\\$&')}"`;
  return `${quoted} <${address}>`;
}

/**
 * Recipients with one of them as another mailbox, in the same place and field. Where that one is addressed already, it
 * stays the only one: nobody gets a message twice.
 */
export function replaceRecipient(recipients: readonly Recipient[], address: string, mailbox: Mailbox): Recipient[] {
  const isThere = recipients.some(
    (one) => one.address !== address && addressKey(one.address) === addressKey(mailbox.address),
  );
  return recipients.flatMap((one) => {
    if (one.address !== address) return [one];
    return isThere ? [] : [{ kind: one.kind, name: mailbox.name, address: mailbox.address }];
  });
}

/** A local part within quotation marks (RFC 5321, section 4.1.2). */
const QUOTED_LOCAL = /^"(?:[^"\\]|\\.)*"$/;

/**
 * Says what is wrong with a bare address, or null. Stricter than RFC 5322 where mail in practice is: the domain has a
 * dot, and no control or direction-changing characters hide in it.
 */
export function addressProblem(address: string): string | null {
  const at = address.lastIndexOf('@');
  const local = address.slice(0, at);
  const domain = address.slice(at + 1);
  if (at < 1 || domain === '')
    return `“${shorten(address)}” is not an email address. Write it like name@company.example.`;
  if (address.length > MESSAGE_LIMITS.maxAddressChars)
    return `“${shorten(address)}” is longer than the ${MESSAGE_LIMITS.maxAddressChars} characters an address may have.`;
  // RFC 5321, section 4.5.3.1.1
  if (local.length > 64) return `The part before the @ in “${shorten(address)}” is longer than 64 characters.`;
  // RFC 5321, section 4.1.2: within quotation marks a blank is a character like others.
  const unquoted = QUOTED_LOCAL.test(local) ? address.replace(/ /g, '') : address;
  if (/[\p{Cc}\p{Cf}\s]/u.test(unquoted)) return `“${shorten(address)}” contains a blank or an invisible character.`;
  if (/[<>()[\],;:\\"]/.test(domain) || !/^[^.]+(\.[^.]+)+$/.test(domain))
    return `“${shorten(domain)}” is not a mail domain. Is a part of it missing?`;
  return null;
}

/**
 * The form under which an address is looked up: two addresses with the same key are one person. Local parts are case
 * sensitive by RFC 5321, section 2.4, but no mail host in use tells them apart.
 */
export function addressKey(address: string): string {
  return address.trim().normalize('NFC').toLowerCase();
}

/**
 * An address without the tag that its user may put before the @ (RFC 5233, section 1).
 *
 * @example withoutTag('ines+panels@tallowreed.example') // 'ines@tallowreed.example'
 */
export function withoutTag(address: string): string {
  return address.replace(/^([^+"]+)\+[^@]*(?=@[^@]*$)/, '$1');
}

/** Whether a domain is one of some, or a part of one. */
export function isOfDomain(domain: string, domains: readonly string[]): boolean {
  return domains.some((one) => domain === one || domain.endsWith(`.${one}`));
}

/** The domain of an address in lower case; empty where there is none. */
export function domainOf(address: string): string {
  return address.slice(address.lastIndexOf('@') + 1).toLowerCase();
}

function shorten(text: string): string {
  return text.length > 60 ? `${text.slice(0, 59)}…` : text;
}
