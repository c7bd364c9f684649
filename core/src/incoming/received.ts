import type { Mailbox } from '../contract/mailbox.js';
import type { CalendarReply } from './calendarReply.js';

/** A mail that came in, taken apart: what is decided upon. */
export interface ReceivedMail {
  /** With angle brackets; null where it has none. */
  messageIdHeader: string | null;
  /** From whom the server had it (RFC 5321, MAIL FROM); empty for what must not be replied to, null where it is not known. */
  returnPath: string | null;
  from: Mailbox;
  subject: string;
  /** Message-IDs that it follows, the nearest first: In-Reply-To, then References from the last to the first. */
  references: string[];
  /** Its header fields by lower-case names; of those that come twice the first. */
  headers: ReadonlyMap<string, string>;
  text: string;
  /** What a calendar says in it; null for nothing. */
  calendar: CalendarReply | null;
  /** The parts that programs wrote for programs, by their media types. */
  reports: { mediaType: string; text: string }[];
  /** The header of the mail that it returns, and its text and HTML; empty where it returns none. */
  returned: string;
}

/** A Message-ID as it stands anywhere in a text (RFC 5322, section 3.6.4). */
const MESSAGE_IDS = /<[^<>\s@]{1,200}@[^<>\s@]{1,200}>/g;

/** The Message-IDs in a text, in its order. */
export function messageIdsIn(text: string): string[] {
  return [...text.matchAll(MESSAGE_IDS)].map(([id]) => id);
}

/** The Message-ID that a field names by itself: some programs leave the brackets out. */
export function messageIdOf(value: string): string[] {
  const ids = messageIdsIn(value);
  const bare = value.trim();
  return ids.length > 0 || !/^[^<>\s@]{1,200}@[^<>\s@]{1,200}$/.test(bare) ? ids : [`<${bare}>`];
}

/** What a mail follows by its header fields, the nearest first: In-Reply-To, then References from the last to the first. */
export function referencesOf(field: (name: string) => string | undefined): string[] {
  return [...messageIdsIn(field('in-reply-to') ?? ''), ...messageIdsIn(field('references') ?? '').reverse()];
}

/** Lists that put their own address in From say in these fields who wrote. */
export const ORIGINAL_FROM_FIELDS = ['x-original-from', 'x-original-sender', 'x-mailfrom'] as const;
const MAX_FIELD_CHARS = 1000;

/** The first address of a field, as far as it can be read without decoding it: none, or one. */
export function addressIn(field: string | undefined): string[] {
  const written = (field ?? '').slice(0, MAX_FIELD_CHARS);
  const address = /<([^<>\s]+@[^<>\s]+)>/.exec(written)?.[1] ?? /[^\s<>"(),;:]+@[^\s<>"(),;:]+/.exec(written)?.[0];
  return address === undefined ? [] : [address];
}
