import { setTimeout as pause } from 'node:timers/promises';
import Sqlite from 'better-sqlite3';
import { SMTPServer } from 'smtp-server';
import { BLANK_CONTENT } from '@kiraku/core/message';
import { createApp } from '@kiraku/server/app';
import { databaseFile } from '@kiraku/server/environment/config';
import { DraftsService } from '@kiraku/server/messages/drafts.service';
import { SendingService } from '@kiraku/server/messages/sending.service';
import { OutboxService } from '@kiraku/server/delivery/outbox.service';
import { AccountService } from '@kiraku/server/settings/account.service';
import { SendingSettings } from '@kiraku/server/settings/sending.settings';
import { benchFolder } from './lib/folder.js';
import { killServer, startServer, stopServer } from './lib/processes.js';
import { report } from './lib/report.js';

/*
 * Two hundred messages leave through a mail server that takes its time, while the server is killed with SIGKILL at
 * random moments. All must arrive, and what arrives twice must do so under one Message-ID.
 */
const MESSAGES = 200;
const KILLS = 20;
const SMTP_PORT = 4881;
/** So slow that every kill finds something under way. */
const REPLY_AFTER_MS = 120;

const { config, remove } = benchFolder(4882);

/** Recipient → the Message-ID of each arrival. */
const arrivals = new Map<string, string[]>();
const outside = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS'],
  disableReverseLookup: true,
  onData: (stream, session, callback) => {
    let text = '';
    stream.on('data', (chunk: Buffer) => (text += chunk.toString('latin1')));
    stream.on('end', () => {
      const address = session.envelope.rcptTo[0]!.address;
      const id = /^message-id: (<[^>]+>)/im.exec(text)![1]!;
      arrivals.set(address, [...(arrivals.get(address) ?? []), id]);
      setTimeout(callback, REPLY_AFTER_MS);
    });
  },
});
outside.on('error', () => undefined);
await new Promise<void>((resolve) => outside.listen(SMTP_PORT, '127.0.0.1', resolve));

const app = await createApp(config);
await app.init();
app.get(AccountService).save({
  name: 'Ines',
  address: 'ines@tallowreed.example',
  smtpHost: '127.0.0.1',
  smtpPort: SMTP_PORT,
  smtpSecurity: 'none',
  smtpUser: '',
});
app.get(SendingSettings).save({ undoSendSeconds: 0 });
// Nothing leaves before the server is started for real.
await app.get(OutboxService).beforeApplicationShutdown();
for (let n = 0; n < MESSAGES; n += 1) {
  const recipients = [{ kind: 'to' as const, name: '', address: `reader${n}@x.example` }];
  const draft = app.get(DraftsService).add({ ...BLANK_CONTENT, recipients, subject: `${n}`, html: '<p>Felt</p>' });
  await app.get(SendingService).send(draft.id, draft.revision);
}
await app.close();

const waiting = () => {
  const database = new Sqlite(databaseFile(config), { readonly: true });
  const count = database.prepare('select count(*) from outbox').pluck().get() as number;
  database.close();
  return count;
};
let kills = 0;
while (kills < KILLS && waiting() > 0) {
  const server = await startServer(config);
  await pause(50 + Math.random() * 250);
  await killServer(server);
  kills += 1;
}
const server = await startServer(config);
while (waiting() > 0) await pause(50);
await stopServer(server);

const all = [...arrivals.values()];
report('killed_times', kills, 'SIGKILLs');
report('killed_arrived', all.length, `of ${MESSAGES} messages`);
report('killed_arrived_twice', all.filter((ids) => ids.length > 1).length, 'messages, under the same Message-ID');
report('killed_two_identities', all.filter((ids) => new Set(ids).size > 1).length, 'messages (bar: 0)');
outside.close(remove);
if (all.length !== MESSAGES) process.exitCode = 1;
