import { once } from 'node:events';
import type { AddressInfo, Server } from 'node:net';
import { join } from 'node:path';
import { Actors } from './actors.js';
import { Postman } from './correspondent.js';
import { Mailboxes } from './mailboxes.js';
import { createMailServer } from './mailServer.js';
import { createPage } from './page.js';
import { Phone } from './phone.js';

export interface StandinConfig {
  dataDir: string;
  port: number;
  smtpPort: number;
  /** Where replies and receipts for the sender are brought. */
  lmtpPort: number;
}

export interface Standin {
  port: number;
  smtpPort: number;
  close(): Promise<void>;
}

/** Starts the simulated world outside: a mail server and the recipients' page, both on loopback only. */
export async function startStandin({ dataDir, port, smtpPort, lmtpPort }: StandinConfig): Promise<Standin> {
  const mailboxes = new Mailboxes(mailFolder(dataDir));
  const actors = new Actors(mailboxes);
  const phone = await Phone.of(phoneFile(dataDir));
  const postman = new Postman(lmtpPort);
  const smtp = createMailServer(mailboxes, postman);
  // A connection that breaks is the other side's matter; only a port that cannot be had is ours.
  await new Promise<void>((resolve, reject) => {
    smtp.once('error', reject);
    smtp.listen(smtpPort, '127.0.0.1', resolve);
  });
  smtp.removeAllListeners('error').on('error', () => undefined);
  const page = createPage(mailboxes, actors, phone, postman).listen(port, '127.0.0.1');
  await once(page, 'listening');
  return {
    port: portOf(page),
    smtpPort: portOf(smtp.server),
    close: async () => {
      actors.stop();
      page.closeAllConnections();
      await Promise.all([
        new Promise((resolve) => page.close(resolve)),
        new Promise<void>((resolve) => smtp.close(() => resolve())),
      ]);
    },
  };
}

/** Where every mail is kept as it came in. */
export function mailFolder(dataDir: string): string {
  return join(dataDir, 'standin', 'mail');
}

/** Where the keys of the simulated phone lie. */
export function phoneFile(dataDir: string): string {
  return join(dataDir, 'standin', 'phone.json');
}

function portOf(server: Server): number {
  return (server.address() as AddressInfo).port;
}
