import SMTPConnection from 'nodemailer/lib/smtp-connection/index.js';
import type { Trial } from '@kiraku/core/contract';
import { reachedHost } from '../environment/reachedHost.js';

const MAX_TRIAL_MS = 5000;

/**
 * Connects to a mail port of this machine as a mail program would, and greets it.
 *
 * @param lmtp whether it speaks LMTP (RFC 2033) rather than SMTP with STARTTLS (RFC 3207)
 */
export async function tryPort(host: string, port: number, { lmtp = false } = {}): Promise<Trial> {
  if (port === 0) return { ok: false, words: 'The port could not be opened: another program uses it.' };
  const connection = new SMTPConnection({
    host: reachedHost(host),
    port,
    lmtp,
    ignoreTLS: lmtp,
    requireTLS: !lmtp,
    // Its certificate is its own: a mail program is shown the fingerprint.
    tls: { rejectUnauthorized: false },
    connectionTimeout: MAX_TRIAL_MS,
    greetingTimeout: MAX_TRIAL_MS,
  });
  try {
    await new Promise<void>((resolve, reject) => {
      connection.once('error', reject);
      connection.connect((error) => (error ? reject(error) : resolve()));
    });
    return { ok: true, words: `It works: port ${port} responds${lmtp ? '' : ', and the connection is encrypted'}.` };
  } catch (error) {
    return { ok: false, words: `Port ${port} does not respond as a mail server: ${(error as Error).message}.` };
  } finally {
    connection.close();
  }
}
