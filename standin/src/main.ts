import { resolve } from 'node:path';
import { Mailboxes } from './mailboxes.js';
import { readAlong } from './pageReader.js';
import { mailFolder, startStandin } from './standin.js';

const env = process.env;
const dataDir = resolve(env['KIRAKU_DATA'] || './.demo');
const { port, smtpPort } = await startStandin({
  dataDir,
  port: Number(env['STANDIN_PORT'] || 4620),
  smtpPort: Number(env['STANDIN_SMTP_PORT'] || 4625),
  lmtpPort: Number(env['KIRAKU_LMTP_PORT'] || 4624),
});
console.log(`Recipients        http://127.0.0.1:${port} (mail server on port ${smtpPort})`);

await readAlong(dataDir, new Mailboxes(mailFolder(dataDir)));
