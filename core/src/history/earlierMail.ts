import type { LeftOut } from '../contract/history.js';
import { RECIPIENT_KINDS, type Mailbox, type Recipient } from '../contract/mailbox.js';
import { addressKey, addressProblem } from '../message/address.js';
import { MESSAGE_LIMITS } from '../message/limits.js';

/** A mail as it was sent before Kiraku, as far as it is of interest. */
export interface EarlierMail {
  /** When it was sent, in epoch milliseconds. */
  at: number;
  from: Mailbox;
  recipients: Recipient[];
  subject: string;
  /** With angle brackets; null where it has none. */
  messageIdHeader: string | null;
  /** Message-IDs of the conversation, oldest first. */
  conversation: string[];
}

/** What is known of a mail from its header. */
export interface MailHeader extends Record<'to' | 'cc' | 'bcc', readonly Mailbox[]> {
  from: Mailbox;
  subject: string;
  messageIdHeader: string | null;
  /** The nearest first. */
  references: readonly string[];
  headers: ReadonlyMap<string, string>;
}

/** No mail is older: what says so has a clock that was not set. */
const EARLIEST = Date.UTC(1982, 7, 13);

/**
 * Reads a mail as one that was sent by its From (RFC 5322, section 3.6).
 *
 * @param now what is dated later is without a date
 */
export function earlierMail(mail: MailHeader, now: number): EarlierMail | LeftOut {
  const at = Date.parse(mail.headers.get('date') ?? '');
  if (!(at >= EARLIEST && at <= now)) return 'no-date';
  const recipients = recipientsOf(mail);
  if (recipients.length === 0) return 'no-recipient';
  const { from, subject, messageIdHeader } = mail;
  return {
    at,
    from,
    recipients,
    subject: subject.slice(0, MESSAGE_LIMITS.maxSubjectChars),
    messageIdHeader,
    conversation: [...new Set(mail.references)].reverse().slice(-MESSAGE_LIMITS.maxConversationIds),
  };
}

/** Each once, and not the sender. */
function recipientsOf(mail: MailHeader): Recipient[] {
  const seen = new Set([addressKey(mail.from.address)]);
  const all = RECIPIENT_KINDS.flatMap((kind) => mail[kind].map((mailbox) => ({ kind, ...mailbox })));
  return all
    .filter(({ address }) => {
      const key = addressKey(address);
      if (seen.has(key) || addressProblem(address) !== null) return false;
      seen.add(key);
      return true;
    })
    .map((one) => ({ ...one, name: one.name.slice(0, MESSAGE_LIMITS.maxNameChars) }))
    .slice(0, MESSAGE_LIMITS.maxRecipients);
}
