/** How a recipient is named in the headers (RFC 5322, section 3.6.3). */
export const RECIPIENT_KINDS = ['to', 'cc', 'bcc'] as const;
export type RecipientKind = (typeof RECIPIENT_KINDS)[number];

/** A mailbox in the sense of RFC 5322, section 3.4; `name` is empty where only the address is known. */
export interface Mailbox {
  name: string;
  address: string;
}

export interface Recipient extends Mailbox {
  kind: RecipientKind;
}
