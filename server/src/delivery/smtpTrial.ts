import nodemailer from 'nodemailer';
import type { Trial, Mailbox } from '@kiraku/core/contract';
import type { SmtpAccess } from '../settings/account.service.js';
import { tlsWords } from '../settings/tlsWords.js';
import { transportOptions } from './smtp.js';

interface SmtpError extends Error {
  code?: string;
  command?: string;
  response?: string;
}

interface Cause {
  applies(error: SmtpError): boolean;
  words(access: SmtpAccess, error: SmtpError, sender: Mailbox): string;
}

/** Commands that come after a server has shown that it is one for mail. */
const MAIL_COMMAND = /^(AUTH|MAIL|RCPT|DATA)/;
/** What a server says that is none for mail is nobody's business here. */
const said = ({ response, command }: SmtpError) =>
  response && MAIL_COMMAND.test(command ?? '') && /^[45]\d\d/.test(response) ? ` It said: “${response.trim()}”.` : '';
const isOneOf = (pattern: RegExp) => (error: SmtpError) => pattern.test(`${error.code} ${error.message}`);

/** What can go wrong on the way out, in the order in which it would; the first that applies is told. */
const CAUSES: readonly Cause[] = [
  {
    applies: isOneOf(/ENOTFOUND|EAI_AGAIN|EDNS/),
    words: ({ host }) => `There is no server named ${host}. Check the spelling.`,
  },
  {
    applies: isOneOf(/ECONNREFUSED/),
    words: ({ host, port }) => `${host} accepts no connections on port ${port}. The usual ports are 587, 465 and 25.`,
  },
  {
    applies: isOneOf(
      /ETIMEDOUT|ECONNRESET|EHOSTUNREACH|ENETUNREACH|EPROTOCOL|closed unexpectedly|Greeting never received|Invalid greeting/i,
    ),
    words: ({ host, port }) =>
      `${host} did not respond as a mail server on port ${port}. Try the other kind of connection.`,
  },
  {
    applies: isOneOf(/certificate|altnames|CERT_|wrong version number|ERR_SSL|ETLS|STARTTLS/i),
    words: ({ host }, error) => `The connection to ${host} could not be encrypted: ${tlsWords(error.message)}.`,
  },
  {
    applies: (error) => /EAUTH|ENOAUTH|EOAUTH2/.test(error.code ?? ''),
    words: (_access, error) => `The server does not accept this user name and password.${said(error)}`,
  },
  {
    applies: (error) => error.command === 'MAIL FROM',
    words: (_access, error, { address }) => `The server does not let you send as ${address}.${said(error)}`,
  },
  {
    applies: (error) => MAIL_COMMAND.test(error.command ?? ''),
    words: (_access, error) => `The server did not accept the test message.${said(error)}`,
  },
];

/** Sends a short message from the sender to themself, and says precisely what went wrong. */
export async function trySmtp(access: SmtpAccess, sender: Mailbox): Promise<Trial> {
  const transport = nodemailer.createTransport(transportOptions(access));
  try {
    await transport.sendMail({
      from: { ...sender },
      to: { ...sender },
      subject: 'Your outgoing mail works',
      text: 'Kiraku sent this message to test your outgoing mail. It has no tracking.\r\n',
    });
    return { ok: true, words: `It works: a test message was sent to ${sender.address}.` };
  } catch (error) {
    return { ok: false, words: smtpProblem(access, error as SmtpError, sender) };
  } finally {
    transport.close();
  }
}

/** Signs in at an outgoing server and sends nothing. Resolves to what went wrong, or null. */
export async function smtpLoginProblem(access: SmtpAccess, sender: Mailbox): Promise<string | null> {
  const transport = nodemailer.createTransport(transportOptions(access));
  try {
    await transport.verify();
    return null;
  } catch (error) {
    return smtpProblem(access, error as SmtpError, sender);
  } finally {
    transport.close();
  }
}

function smtpProblem(access: SmtpAccess, error: SmtpError, sender: Mailbox): string {
  const cause = CAUSES.find((candidate) => candidate.applies(error));
  return cause?.words(access, error, sender) ?? 'It did not work: the server does not speak SMTP.';
}
