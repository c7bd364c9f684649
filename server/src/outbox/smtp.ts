import nodemailer, { type Transporter } from 'nodemailer';
import type SMTPTransport from 'nodemailer/lib/smtp-transport/index.js';
import type { ReceiptState, SmtpAuth } from '@kiraku/core/contract';
import type { DkimKey } from '../settings/dkim.service.js';
import type { SmtpAccess } from '../settings/account.service.js';

/** One mail with its envelope (RFC 5321, section 2.3.1): one recipient, since each copy is its own. */
export interface OutgoingMail {
  from: string;
  to: string;
  raw: Buffer;
  /** Under which identifier a delivery receipt is asked for (RFC 3461, ENVID); null where none is wanted. */
  receipt: string | null;
}

/** `delay`: it may work later (4xx, or no connection). `refuse`: it never will (5xx). */
export type SmtpOutcome = { kind: 'sent'; receipt: ReceiptState | null } | { kind: 'delay' | 'refuse'; words: string };

const CONNECTIONS = 4;
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

/** RFC 3461: tell of success, failure and delay; the headers are enough to know what it is about. */
function wishFor(receipt: string, to: string) {
  return {
    id: receipt.replace(/[<>]/g, ''),
    return: 'headers' as const,
    notify: ['success', 'failure', 'delay'] as ('success' | 'failure' | 'delay')[],
    recipient: to,
  };
}

/** Whether the server heard the wish: it says with EHLO whether it knows how. */
function receiptState(ehlo: string[]): ReceiptState {
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
      maxConnections: CONNECTIONS,
    });
  }

  /** Hands one mail over. Never rejects: what went wrong is part of the outcome, in the server's own words. */
  async send({ from, to, raw, receipt }: OutgoingMail): Promise<SmtpOutcome> {
    const dsn = receipt === null ? undefined : wishFor(receipt, to);
    try {
      const info = (await this.transport.sendMail({
        // RFC 6152: announced where it is needed, for servers that would refuse it otherwise.
        envelope: { from, to: [to], use8BitMime: raw.some((octet) => octet > 127) } as never,
        raw,
        dsn,
        dkim: this.dkim,
      })) as SMTPTransport.SentMessageInfo & { ehlo?: string[] };
      return { kind: 'sent', receipt: dsn ? receiptState(info.ehlo ?? []) : null };
    } catch (error) {
      return outcomeOf(error as Partial<SmtpError>);
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
  rejectedErrors: SmtpError[];
}

/** A login that fails is to be mended in the settings, and the mail to go then: it waits. */
const MENDABLE = new Set(['EAUTH', 'ENOAUTH', 'EOAUTH2']);

function outcomeOf(error: Partial<SmtpError>): SmtpOutcome {
  const cause = error.rejectedErrors?.[0] ?? error;
  const words = (cause.response ?? cause.message ?? 'The mail server could not be reached').trim().slice(0, 500);
  const permanent = (cause.responseCode ?? 0) >= 500 && !MENDABLE.has(cause.code ?? '');
  return { kind: permanent ? 'refuse' : 'delay', words };
}
