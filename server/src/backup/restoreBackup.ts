import 'reflect-metadata';
import { existsSync } from 'node:fs';
import { readConfig } from '../environment/config.js';
import { askInSecret } from '../process/ask.js';
import { restoreBackup } from './restoring.js';

/*
 * A program of its own, for who has lost a machine or moves to another: brings the newest backup back, or the one that is
 * named, to a data folder in which there is nothing.
 */

try {
  const config = readConfig();
  if (!existsSync(config.backupDir))
    throw new Error(`There is no folder ${config.backupDir}. Set KIRAKU_BACKUP to the folder that has backups.`);
  const passphrase = await askInSecret('Passphrase of the backup: ');
  const { at, counts } = await restoreBackup(config, { name: process.argv[2], passphrase }, Date.now());
  console.log(
    `Restored to ${config.dataDir} as of ${new Date(at).toLocaleString()}: ${counts.messages} messages, ${counts.people} people, ${counts.events} events.`,
  );
  console.log('What was to be sent since then is held back until you say so. Start with: npm start');
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
