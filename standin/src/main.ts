import { resolve } from 'node:path';
import { startStandin } from './standin.js';

const env = process.env;
const { port, smtpPort } = await startStandin({
  dataDir: resolve(env['KIRAKU_DATA'] || './.demo'),
  port: Number(env['STANDIN_PORT'] || 4620),
  smtpPort: Number(env['STANDIN_SMTP_PORT'] || 4625),
});
console.log(`World outside    http://127.0.0.1:${port} (mail server on port ${smtpPort})`);
