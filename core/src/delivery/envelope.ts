import { addressKey } from '../message/index.js';

/** What a mail program asks of the delivery reports for a mail (RFC 3461, sections 4.3 and 4.4). */
export interface DsnOfMail {
  ret?: 'FULL' | 'HDRS';
  envid?: string;
}

/** What it asks of those for one recipient (RFC 3461, sections 4.1 and 4.2). */
export interface DsnOfRecipient {
  notify?: string[];
  orcpt?: string;
}

/** What is requested for one copy. */
export type Dsn = DsnOfMail & DsnOfRecipient;

/** The envelope of a mail that was submitted (RFC 5321, section 2.3.1). */
export interface SubmittedEnvelope extends DsnOfMail {
  /** Empty for what must not be replied to. */
  from: string;
  to: { address: string; dsn?: DsnOfRecipient }[];
}

/** What was asked for one recipient; null for nothing. */
export function dsnFor({ ret, envid, to }: SubmittedEnvelope, address: string): Dsn | null {
  const own = to.find((one) => addressKey(one.address) === addressKey(address))?.dsn;
  const dsn = { ...(ret && { ret }), ...(envid !== undefined && { envid }), ...own };
  return Object.keys(dsn).length === 0 ? null : dsn;
}
