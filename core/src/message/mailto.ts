import type { DraftContent } from '../contract/message.js';
import { addressKey, parseAddresses } from './address.js';
import { escapeHtml } from './placeholders.js';
import { MESSAGE_LIMITS } from './limits.js';
import { RECIPIENT_KINDS, type Recipient } from '../contract/mailbox.js';

/** Of a link’s body; no program makes longer ones. */
const MAX_BODY_CHARS = 100_000;

/** What a `mailto:` link asks for, as far as a new message takes it. */
export type MailtoContent = Pick<DraftContent, 'recipients' | 'subject' | 'html'>;

/**
 * Reads a `mailto:` link (RFC 6068). Addresses that are none, and fields other than To, Cc, Bcc, Subject and Body, are left
 * out: a link comes from strangers, and decides nothing else about a message.
 *
 * @returns null where it is no such link
 */
export function readMailto(uri: string): MailtoContent | null {
  const [, path, query = ''] = /^mailto:([^?#]*)(?:\?([^#]*))?/i.exec(uri) ?? [];
  if (path === undefined) return null;
  const fields: [name: string, value: string][] = query
    .split('&')
    .filter((field) => field.includes('='))
    .map((field) => {
      const [name, ...value] = field.split('=');
      return [decoded(name!).toLowerCase(), decoded(value.join('='))];
    });
  const all = [['to', decoded(path)], ...fields] as const;
  const last = (name: string) => fields.findLast((field) => field[0] === name)?.[1] ?? '';
  const recipients = new Map<string, Recipient>();
  for (const kind of RECIPIENT_KINDS)
    for (const [, value] of all.filter(([name]) => name === kind))
      for (const mailbox of addressesIn(value))
        if (!recipients.has(addressKey(mailbox.address)))
          recipients.set(addressKey(mailbox.address), { kind, ...mailbox });
  return {
    recipients: [...recipients.values()].slice(0, MESSAGE_LIMITS.maxRecipients),
    subject: last('subject').replace(/\s+/g, ' ').slice(0, MESSAGE_LIMITS.maxSubjectChars),
    html: paragraphs(last('body').slice(0, MAX_BODY_CHARS)),
  };
}

/** Each by itself: one that is none does not take the others with it. */
function addressesIn(list: string) {
  const parsed = parseAddresses(list);
  if ('mailboxes' in parsed) return parsed.mailboxes;
  return list.split(',').flatMap((one) => {
    const alone = parseAddresses(one);
    return 'mailboxes' in alone ? alone.mailboxes : [];
  });
}

/** RFC 6068, section 2: percent-encoded UTF-8; a plus is a plus. What is encoded wrongly stands as it is. */
function decoded(text: string): string {
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

function paragraphs(text: string): string {
  if (text.trim() === '') return '';
  return text
    .split(/\r\n|\r|\n/)
    .map((line) => `<p>${escapeHtml(line)}</p>`)
    .join('');
}
