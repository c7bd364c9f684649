import { createTransport } from 'nodemailer';
import { ACCOUNT, type Desk } from '../harness.js';

/**
 * Brings a mail as the user’s mail server would, by LMTP.
 *
 * @param from MAIL FROM; empty for what comes from no address
 * @returns what the server answers
 */
export async function deliverTo(desk: Desk, raw: string, from: string, rcpt = ACCOUNT.address): Promise<string> {
  const transport = createTransport({
    lmtp: true,
    host: '127.0.0.1',
    port: desk.config.lmtpPort,
    ignoreTLS: true,
  } as never);
  try {
    const info = await transport.sendMail({
      envelope: { from, to: [rcpt] },
      raw: raw.replace(/\r?\n/g, '\r\n'),
    });
    return (info as { response: string }).response;
  } finally {
    transport.close();
  }
}
