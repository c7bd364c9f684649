import { isAscii } from 'node:buffer';
import { Readable } from 'node:stream';
import nodemailer, { type Transporter } from 'nodemailer';
import type SMTPTransport from 'nodemailer/lib/smtp-transport/index.js';
import type { DsnState, SmtpAuth } from '@kiraku/core/contract';
import type { DkimKey } from '../settings/dkim.service.js';
import type { SmtpAccess } from '../settings/account.service.js';
import type { Dsn } from '@kiraku/core/delivery';
import { chunksOf, type MailBytes } from './mailBytes.js';

/** One mail with its envelope (RFC 5321, section 2.3.1): one recipient, since each copy is its own. */
export interface OutgoingMail {
  /** Empty for what must not be replied to. */
  from: string;
  to: string;
  mail: MailBytes;
  /** What it shares with other copies. */
  shared: Buffer | null;
  /** What the mail program that submitted it asks of delivery reports; null for nothing. */
  dsn: Dsn | null;
  /** Under which identifier a delivery receipt is asked for (RFC 3461, ENVID); null where none is wanted. */
  receipt: string | null;
}

/** A mail that lies in no outbox. */
export type SingleMail = Pick<OutgoingMail, 'from' | 'to'> & { raw: Buffer };

/** `delayed`: it may work later (4xx, or no connection). `refused`: it never will (5xx). */
export type SmtpOutcome =
  { kind: 'accepted'; dsnState: DsnState | null } | { kind: 'delayed' | 'refused'; words: string };

const MAX_SMTP_CONNECTIONS = 4;
const CONNECT_TIMEOUT_MS = 20_000;
/** RFC 5321, section 4.5.3.2, asks for minutes: a slow server after DATA is not a dead one. */
const SOCKET_TIMEOUT_MS = 5 * 60_000;

/** How the outgoing server is spoken to. */
export function transportOptions({
  host,
  port,
  security,
  user,
  auth,
  password,
  ehloName,
}: SmtpAccess): SMTPTransport.Options {
  return {
    name: ehloName,
    host,
    port,
    secure: security === 'tls',
    requireTLS: security === 'starttls',
    ignoreTLS: security === 'none',
    auth: authOf(user, auth, password ?? ''),
    connectionTimeout: CONNECT_TIMEOUT_MS,
    greetingTimeout: CONNECT_TIMEOUT_MS,
    socketTimeout: SOCKET_TIMEOUT_MS,
    disableFileAccess: true,
    disableUrlAccess: true,
  };
}

function authOf(user: string, auth: SmtpAuth, secret: string): SMTPTransport.Options['auth'] {
  if (user === '') return undefined;
  return auth === 'xoauth2' ? { type: 'OAuth2', user, accessToken: secret } : { user, pass: secret };
}

/**
 * RFC 3461: tell of success, failure and delay; the headers are enough to know what it is about. What a mail program asked for
 * itself comes first, and goes on to where it asked.
 */
function dsnRequestFor(receipt: string | null, dsn: Dsn | null, to: string) {
  if (receipt === null && dsn === null) return undefined;
  const { ret = 'HDRS', envid, notify, orcpt } = dsn ?? {};
  const own =
    receipt === null ? undefined : { envid: receipt.replace(/[<>]/g, ''), notify: ['SUCCESS', 'FAILURE', 'DELAY'] };
  return { ret, envid: envid ?? own?.envid, notify: notify ?? own?.notify, orcpt: orcpt ?? to };
}

/** Whether the server heard the request: it says with EHLO whether it knows how. */
function dsnState(ehlo: string[]): DsnState {
  return ehlo.some((line) => /^DSN\b/i.test(line)) ? 'asked' : 'not-offered';
}

/** A pool of connections to the outgoing server. */
export class SmtpClient {
  private readonly transport: Transporter;

  constructor(
    access: SmtpAccess,
    private readonly dkim: DkimKey | undefined,
  ) {
    this.transport = nodemailer.createTransport({
      ...transportOptions(access),
      pool: true,
      maxConnections: MAX_SMTP_CONNECTIONS,
    });
  }

  /** Hands one mail over. Never rejects: what went wrong is part of the outcome, in the server's own words. */
  async send({ from, to, mail, shared, dsn, receipt }: OutgoingMail): Promise<SmtpOutcome> {
    const dsnRequest = dsnRequestFor(receipt, dsn, to);
    if (mail.pieces !== null && shared === null)
      return { kind: 'refused', words: 'Its original is not stored any more.' };
    try {
      const info = (await this.transport.sendMail({
        // RFC 6152: announced where it is needed, for servers that would refuse it otherwise.
        envelope: { from, to: [to], use8BitMime: !(isAscii(mail.own) && (!shared || isAscii(shared))) } as never,
        raw: mail.pieces === null ? mail.own : Readable.from(chunksOf(mail, shared), { objectMode: false }),
        dsn: dsnRequest as never,
        dkim: this.dkim,
      })) as SMTPTransport.SentMessageInfo & { ehlo?: string[] };
      return { kind: 'accepted', dsnState: receipt === null ? null : dsnState(info.ehlo ?? []) };
    } catch (error) {
      return outcomeOf(error as Partial<SmtpError>, { from, to });
    }
  }

  /** No more mail goes this way; what is under way still does. */
  close(): void {
    this.transport.close();
  }

  /** Breaks off what is under way, too: it has failed for now. */
  abandon(): void {
    this.transport.close({ force: true });
  }
}

interface SmtpError extends Error {
  code: string;
  response: string;
  responseCode: number;
  command: string;
  rejectedErrors: SmtpError[];
}

/** A login that fails is to be mended in the settings, and the mail to go then: it waits. */
const RETRYABLE = new Set(['EAUTH', 'ENOAUTH', 'EOAUTH2']);
/** What is said before any recipient is named is said of the connection, or of the sender: no recipient is at fault. */
const ABOUT_RECIPIENT = /^(RCPT|DATA)/;
/** The parameter by which such an address is announced goes with MAIL (RFC 6531, section 3.4). */
const ABOUT_ADDRESSES = /^(MAIL|RCPT|DATA)/;
const BEYOND_ASCII = /[^\0-\x7f].*@/u;

function outcomeOf(error: Partial<SmtpError>, { from, to }: Pick<OutgoingMail, 'from' | 'to'>): SmtpOutcome {
  const cause = error.rejectedErrors?.[0] ?? error;
  const said = (cause.response ?? cause.message ?? 'The mail server could not be reached').trim().slice(0, 500);
  const code = cause.responseCode ?? 0;
  const command = cause.command ?? 'CONN';
  const isPermanent = code >= 500 && !RETRYABLE.has(cause.code ?? '');
  if (isPermanent && BEYOND_ASCII.test(to) && ABOUT_ADDRESSES.test(command))
    return {
      kind: 'refused',
      words: `Your mail server does not send to addresses like this one (RFC 6531). It said: ${said}`,
    };
  if (!isPermanent || ABOUT_RECIPIENT.test(command)) return { kind: isPermanent ? 'refused' : 'delayed', words: said };
  const words =
    command === 'MAIL FROM'
      ? `Your mail server accepts no mail from ${from || 'nobody'}: ${said}`
      : `Your mail server rejected the connection: ${said}`;
  return { kind: 'delayed', words };
}
