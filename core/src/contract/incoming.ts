import type { Trial } from './account.js';
import type { Mailbox } from './mailbox.js';

/**
 * What came back for something that was sent: a reply, one that a program wrote for certain or perhaps (RFC 3834), word of
 * the delivery (RFC 3464), or of what became of it in the recipient’s program (RFC 8098).
 */
export type IncomingKind = 'reply' | 'automatic' | 'perhaps-automatic' | 'dsn' | 'mdn';

/** What a mail server said of a delivery (RFC 3464, section 2.3.3); `relayed`: on to one that reports nothing more. */
export type DeliveryAction = 'delivered' | 'relayed' | 'expanded' | 'delayed' | 'failed';

/** What a recipient’s program said of a mail (RFC 8098, section 3.2.6), `denied` as older ones say it (RFC 3798). */
export type Disposition = 'displayed' | 'deleted' | 'denied' | 'processed';

/** One mail that came back, as the conversation shows it. */
export interface IncomingView {
  id: number;
  kind: IncomingKind;
  at: number;
  messageId: number;
  /** Null where it may be any recipient’s. */
  copyId: number | null;
  from: Mailbox;
  subject: string;
  /** What its writer wrote, without quote and signature; of a report what it means, in a sentence. */
  words: string;
  /** Why it only probably belongs here; null where it names the very copy. */
  doubt: string | null;
  /** What the user said of the doubt; null where nothing was said, or there is none. */
  verdict: IncomingVerdict | null;
  /** Why not all of it is shown; null where all is. */
  problem: string | null;
  /** Whether the mail is kept as it came, to be saved. */
  hasOriginal: boolean;
}

export const INCOMING_VERDICTS = ['confirmed', 'rejected'] as const;
/** What the user said of a reply that was only probably one. */
export type IncomingVerdict = (typeof INCOMING_VERDICTS)[number];

/** A mail of the mailbox that could not be read in. */
export interface MailboxFailure {
  id: number;
  folder: string;
  uid: number;
  fromAddress: string;
  subject: string;
  /** Why, in words. */
  problem: string;
  attempts: number;
  lastAttemptAt: number;
  /** Whether it is left alone until somebody asks for it. */
  givenUp: boolean;
}

export const MAILBOX_WAYS = ['none', 'imap', 'lmtp'] as const;
/** How replies come in: not at all, from a mailbox that is read, or delivered by a mail server. */
export type MailboxWay = (typeof MAILBOX_WAYS)[number];

export const UNMATCHED_MAIL = ['later', 'drop'] as const;
/**
 * What becomes of mail that a server delivers and that is not accepted: it is to come later (4xx, RFC 5321, section 4.2.1), or is
 * accepted and dropped. Never refused for good: its sender would get a report.
 */
export type UnmatchedMail = (typeof UNMATCHED_MAIL)[number];

export const REFUSED_WAYS = ['submission', 'lmtp'] as const;
/** How a mail came that was not accepted: submitted by another mail app, or delivered by a mail server. */
export type RefusedWay = (typeof REFUSED_WAYS)[number];

/** A mail that was not taken. */
export interface RefusedMail {
  id: number;
  at: number;
  way: RefusedWay;
  fromAddress: string;
  toAddress: string;
  subject: string;
  /** Why, in words. */
  problem: string;
  /** Whether it is kept as it came, to be saved. */
  hasOriginal: boolean;
}

export const IMAP_SECURITIES = ['tls', 'starttls', 'none'] as const;
export type ImapSecurity = (typeof IMAP_SECURITIES)[number];

/** Where replies are read from. The password is never given out. */
export interface MailboxView {
  way: MailboxWay;
  host: string;
  port: number;
  security: ImapSecurity;
  user: string;
  hasPassword: boolean;
  /** Folders that are looked into besides the inbox, by their paths. */
  folders: string[];
  /** Whether the clean copy of what was sent here is put into the folder of sent mail. */
  storesSent: boolean;
  /** What a mail server gets as a response when it delivers what is not accepted. */
  unmatched: UnmatchedMail;
  /** The port to which a mail server may deliver replies; 0 where it could not be opened. */
  lmtpPort: number;
  state: MailboxState;
}

/** Whether a reply would be seen. */
export interface MailboxState {
  /** When it was last certain that nothing is missing; null before that. */
  seenAt: number | null;
  /** What stands in the way, in words; null where nothing does. */
  problem: string | null;
  /** Mails that could not be read in, the newest first. */
  failures: MailboxFailure[];
}

/** What became of the test of a mailbox. */
export interface MailboxTrial extends Trial {
  /** The folders that there are, in their order. */
  folders: MailboxFolder[];
}

export interface MailboxFolder {
  path: string;
  /** Whether sent mail lies there, as the server says (RFC 6154). */
  isSent: boolean;
}
