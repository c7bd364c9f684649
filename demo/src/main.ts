import { existsSync } from 'node:fs';
import { databaseFile, readConfig } from '@kiraku/server/environment/config';
import { keepPrivate } from '@kiraku/server/store/keepPrivate';
import { generateDemo } from './generate.js';

const config = readConfig();
keepPrivate(config.dataDir);
if (process.argv.includes('--fresh') || !existsSync(databaseFile(config))) {
  console.log('Making six weeks of demo data; this takes a few seconds …');
  const messages = await generateDemo(config, {
    port: Number(process.env['STANDIN_PORT'] || 4620),
    smtpPort: Number(process.env['STANDIN_SMTP_PORT'] || 4625),
  });
  console.log(`Demo data made: ${messages} messages.`);
}
