import type { TimeFormatView } from './time.js';

export const SMTP_SECURITIES = ['none', 'starttls', 'tls'] as const;
/** `tls` is implicit TLS (RFC 8314), `starttls` is RFC 3207, `none` is for loopback. */
export type SmtpSecurity = (typeof SMTP_SECURITIES)[number];

export const SMTP_AUTHS = ['password', 'xoauth2'] as const;
/** How one logs in: with a password (SASL PLAIN or LOGIN), or with an OAuth 2.0 access token (SASL XOAUTH2). */
export type SmtpAuth = (typeof SMTP_AUTHS)[number];

/** Who sends, and through which server. The password is never part of what the server gives out. */
export interface AccountView {
  name: string;
  address: string;
  smtpHost: string;
  smtpPort: number;
  smtpSecurity: SmtpSecurity;
  smtpUser: string;
  smtpAuth: SmtpAuth;
  hasSmtpPassword: boolean;
}

/** A way out that the mail domain itself announces (RFC 6186); null where it announces none. */
export type AccountGuess = Pick<AccountView, 'smtpHost' | 'smtpPort' | 'smtpSecurity' | 'smtpUser'>;

/** What became of the test of a connection. */
export interface Trial {
  ok: boolean;
  words: string;
}

/** How messages leave. */
export interface SendingView {
  /** For how long after Send a message can be recalled. */
  undoSendSeconds: number;
  /** For how long a copy that was refused for now is tried again. */
  giveUpHours: number;
}

/** What a new message begins with; those submitted by a mail program go by it too. */
export interface WritingDefaults {
  trackOpens: boolean;
  trackClicks: boolean;
  disclose: boolean;
  requestDsn: boolean;
  requestMdn: boolean;
  /** The signature that a new message begins with; null for none. */
  signatureId: number | null;
  /** The line that tells recipients about tracking; its last words in [brackets] lead to the page to opt out. */
  disclosure: string;
}

/** A DKIM signature (RFC 6376) for what leaves; the key is never given out. */
export interface DkimView {
  domain: string;
  selector: string;
  /** The public key as it must stand in the DNS: a TXT record at `selector._domainkey.domain`. */
  record: string;
}

export interface AppPasswordView {
  id: number;
  name: string;
  createdAt: number;
  lastUsedAt: number | null;
}

/** Where mail programs hand their mail in, and who may. */
export interface SubmissionView {
  /** 0 where the port could not be opened. */
  port: number;
  user: string;
  /** SHA-256 of the certificate, as mail programs show it. */
  fingerprint: string;
  /** Sender addresses that are allowed besides the account's own. */
  addresses: string[];
  passwords: AppPasswordView[];
}

/** What the page must know before anything else. */
/** What set-up leads through after the first sign-in, in this order; each can be skipped. */
export const SET_UP_STEPS = ['outgoing', 'public-address', 'replies', 'tracking', 'backups', 'first-message'] as const;
export type SetUpStep = (typeof SET_UP_STEPS)[number];

/** How far set-up has come: null when it is over. */
export interface SetUpProgress {
  step: SetUpStep | null;
}

export interface SessionView {
  /** False until a passphrase has been chosen: the page then leads through set-up. */
  setUp: boolean;
  signedIn: boolean;
  /** Where set-up goes on; null where it is over, and before sign-in. */
  setUpStep: SetUpStep | null;
  account: AccountView | null;
  /** The public address as it stands in emails; empty before sign-in. */
  publicUrl: string;
  /** How times and dates are written; null before sign-in, and until a browser has said it. */
  timeFormat: TimeFormatView | null;
  /** Where the live stream is to go on, so that it tells of all that changes after this; empty before sign-in. */
  liveAfter: string;
}

/** Whether a code from the phone is asked for besides the passphrase (RFC 6238). */
export interface CodesView {
  isOn: boolean;
  /** How many recovery codes have not been used. */
  recoveryCodesLeft: number;
}

/** What a phone is given, so that it shows codes. */
export interface CodesSecret {
  /** In Base32 (RFC 4648), to be typed. */
  secret: string;
  /** The same, to be read by a camera: otpauth://totp/… */
  uri: string;
}

/** Each is good once, where the phone is lost. They are shown once. */
export interface RecoveryCodes {
  codes: string[];
}

/** A passkey: it signs in instead of passphrase and code (WebAuthn). */
export interface PasskeyView {
  id: string;
  /** As the user called it. */
  name: string;
  /** The name of the desk at which it is good. */
  host: string;
  createdAt: number;
  lastUsedAt: number | null;
}

/** What a browser is asked with, as WebAuthn has it in JSON. */
export interface PasskeyOptions {
  options: object;
}

/** What a browser replies, as WebAuthn has it in JSON. */
export interface PasskeyReply {
  reply: object;
}

export interface NewPasskeyRequest extends PasskeyReply {
  name: string;
}

/** RFC 9457 problem details. `errors` names the fields of the request that are at fault. */
export interface Problem {
  type: string;
  title: string;
  status: number;
  detail: string;
  errors?: { field: string; message: string }[];
}

/** Where somebody is signed in. */
export interface OpenSession {
  id: string;
  createdAt: number;
  /** To within some minutes. */
  lastSeenAt: number;
  /** What the browser says of itself; null where it does not say. */
  device: 'phone' | 'tablet' | 'computer' | null;
  system: string | null;
  program: string | null;
  /** Whether it is the one that asks. */
  isThis: boolean;
}
