import { ImapFlow, type ImapFlowOptions } from 'imapflow';
import type { MailboxFolder, MailboxTrial } from '@kiraku/core/contract';
import { counted } from '@kiraku/core/time';
import { tlsWords } from '../settings/tlsWords.js';
import type { ImapAccess } from './mailbox.settings.js';

/** A connection that keeps silent for as long is taken for dead. */
const IMAP_SILENCE_MS = 6 * 60_000;
const GREETING_MS = 15_000;

/** How a mailbox is spoken to (RFC 9051). It is only ever looked into, but for the folder of sent mail. */
export function imapClient({ host, port, security, user, password }: ImapAccess): ImapFlow {
  const options: ImapFlowOptions = {
    host,
    port,
    secure: security === 'tls',
    auth: { user, pass: password },
    ...(security === 'starttls' && { doSTARTTLS: true }),
    // Mail servers on this machine, and at home, have certificates of their own making; only there is no TLS asked for.
    ...(security === 'none' && { doSTARTTLS: false }),
    logger: false,
    emitLogs: false,
    greetingTimeout: GREETING_MS,
    connectionTimeout: GREETING_MS,
    socketTimeout: IMAP_SILENCE_MS,
    disableAutoIdle: true,
    qresync: true,
    clientInfo: { name: 'Kiraku' },
  };
  const client = new ImapFlow(options);
  // What goes wrong is told where somebody waits for it; a connection that breaks meanwhile must not end the desk.
  client.on('error', () => undefined);
  return client;
}

interface ImapError extends Error {
  code?: string;
  authenticationFailed?: boolean;
  responseText?: string;
}

const CAUSES: readonly [
  applies: (error: ImapError) => boolean,
  words: (access: ImapAccess, error: ImapError) => string,
][] = [
  [
    (error) =>
      error.authenticationFailed === true ||
      /AUTHENTICATIONFAILED|Invalid credentials/i.test(String(error.responseText)),
    (_access, { responseText }) =>
      `The server does not accept this user name and password.${responseText ? ` It said: “${responseText}”.` : ''}`,
  ],
  [
    ({ code }) => code === 'ENOTFOUND' || code === 'EAI_AGAIN',
    ({ host }) => `There is no server named ${host}. Check the spelling.`,
  ],
  [
    ({ code }) => code === 'ECONNREFUSED',
    ({ host, port }) => `${host} accepts no connections on port ${port}. The usual ports are 993 and 143.`,
  ],
  [
    ({ code, message }) => /CERT|SELF_SIGNED|ERR_TLS|ERR_SSL|wrong version/i.test(`${code} ${message}`),
    ({ host }, { message }) => `The connection to ${host} could not be encrypted: ${tlsWords(message)}.`,
  ],
  [
    ({ code, message }) =>
      /TIMEOUT|ETIMEDOUT|ECONNRESET|GREETING|NoConnection|Unexpected close|not available/i.test(`${code} ${message}`),
    ({ host, port }) => `${host} did not respond as a mailbox on port ${port}. Try the other kind of connection.`,
  ],
];

/** What went wrong on the way to a mailbox, in words that say how to mend it. */
export function imapProblem(access: ImapAccess, error: unknown): string {
  const problem = error as ImapError;
  const cause = CAUSES.find(([applies]) => applies(problem));
  if (cause) return cause[1](access, problem);
  return problem.responseText
    ? `The mailbox could not be read: ${problem.responseText}.`
    : 'The mailbox could not be read: the server does not speak IMAP.';
}

/** Looks whether a mailbox can be opened, and which folders it has. */
export async function tryImap(access: ImapAccess): Promise<MailboxTrial> {
  const client = imapClient(access);
  try {
    await client.connect();
    const folders = await foldersOf(client);
    const inbox = await client.mailboxOpen('INBOX', { readOnly: true });
    const idles = client.capabilities.has('IDLE');
    await client.logout();
    const how = idles
      ? 'Replies show up the moment they arrive.'
      : 'It does not announce new mail: it is checked every minute.';
    return { ok: true, words: `It works: the inbox has ${counted(inbox.exists, 'message')}. ${how}`, folders };
  } catch (error) {
    client.close();
    return { ok: false, words: imapProblem(access, error), folders: [] };
  }
}

/** The folders that can be opened, in the server’s order. */
export async function foldersOf(client: ImapFlow): Promise<MailboxFolder[]> {
  const list = await client.list();
  return list
    .filter(({ flags }) => !flags.has('\\Noselect') && !flags.has('\\NonExistent'))
    .map(({ path, specialUse }) => ({ path, isSent: specialUse === '\\Sent' }));
}
