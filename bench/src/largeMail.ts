import { setTimeout as pause } from 'node:timers/promises';
import nodemailer from 'nodemailer';
import { SMTPServer } from 'smtp-server';
import { createApp } from '@kiraku/server/app';
import { AccountService } from '@kiraku/server/settings/account.service';
import { AppPasswords } from '@kiraku/server/submission/appPasswords.service';
import { benchFolder } from './lib/folder.js';
import { peakMemoryOf, startServer, stopServer } from './lib/processes.js';
import { quantile, report } from './lib/report.js';

/* A mail with a file of 20 MB is submitted for twenty people, and leaves: how long both sites keep others waiting meanwhile. */
const FILE_BYTES = 20 * 2 ** 20;
const PEOPLE = 20;
const SMTP_PORT = 4885;
const SUBMISSION_PORT = 4888;
const PASSWORD = 'a-bench-password';
const INES = 'ines@tallowreed.example';
const ASK_EVERY_MS = 10;

const { config: base, remove } = benchFolder(4886);
const config = { ...base, submissionPort: SUBMISSION_PORT };
let arrived = 0;
const outside = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS'],
  disableReverseLookup: true,
  onData: (stream, _session, callback) => {
    stream.resume();
    stream.on('end', () => {
      arrived += 1;
      callback();
    });
  },
});
outside.on('error', () => undefined);
await new Promise<void>((resolve) => outside.listen(SMTP_PORT, '127.0.0.1', resolve));

const app = await createApp(config);
await app.init();
app.get(AccountService).save({
  name: 'Ines',
  address: INES,
  smtpHost: '127.0.0.1',
  smtpPort: SMTP_PORT,
  smtpSecurity: 'none',
  smtpUser: '',
});
app.get(AppPasswords).add('bench', PASSWORD);
await app.close();
const server = await startServer(config);

const waits: Record<'desk' | 'public', number[]> = { desk: [], public: [] };
let isOver = false;
const asking = (
  [
    ['desk', config.port],
    ['public', config.publicPort],
  ] as const
).map(async ([site, port]) => {
  while (!isOver) {
    const began = performance.now();
    await fetch(`http://127.0.0.1:${port}/health`).then((response) => response.arrayBuffer());
    waits[site].push(performance.now() - began);
    await pause(ASK_EVERY_MS);
  }
});

const people = Array.from({ length: PEOPLE }, (_, n) => `reader${n}@x.example`);
const file = Buffer.alloc(FILE_BYTES, 'a large plan ').toString('base64').replace(/.{76}/g, '$&\r\n');
const raw =
  `From: Ines <${INES}>\r\nTo: ${people.join(', ')}\r\nSubject: Large\r\nMIME-Version: 1.0\r\n` +
  'Content-Type: multipart/mixed; boundary=b\r\n\r\n--b\r\nContent-Type: text/html\r\n\r\n' +
  '<p>Dear <a href="https://tallowreed.example/">all</a></p>\r\n--b\r\nContent-Type: application/pdf\r\n' +
  `Content-Disposition: attachment; filename=plan.pdf\r\nContent-Transfer-Encoding: base64\r\n\r\n${file}\r\n--b--\r\n`;
const client = nodemailer.createTransport({
  host: '127.0.0.1',
  port: SUBMISSION_PORT,
  requireTLS: true,
  tls: { rejectUnauthorized: false },
  auth: { user: INES, pass: PASSWORD },
});
const began = performance.now();
await client.sendMail({ envelope: { from: INES, to: people }, raw });
report('largeMail.accepted', (performance.now() - began) / 1000, 's');
while (arrived < PEOPLE) await pause(20);
report('largeMail.left', (performance.now() - began) / 1000, 's');
isOver = true;
await Promise.all(asking);
for (const [site, list] of Object.entries(waits)) {
  report(`largeMail.${site}.p99`, quantile(list, 0.99), 'ms');
  report(`largeMail.${site}.longest`, Math.max(...list), 'ms');
}
report('largeMail.peakMemory', peakMemoryOf(server), 'MB, of all processes');

await stopServer(server);
client.close();
outside.close();
remove();
