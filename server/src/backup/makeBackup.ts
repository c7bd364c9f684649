import 'reflect-metadata';
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { existsSync } from 'node:fs';
import { constants, setPriority } from 'node:os';
import { databaseFile, readConfig, type Config } from '../environment/config.js';
import { askInSecret } from '../process/ask.js';
import { choiceProblem } from '../session/passphraseStrength.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { openDatabase, openToRead } from '../store/database.js';
import { keepPrivate } from '../store/keepPrivate.js';
import { BackupSettings } from './backup.settings.js';
import { backupName } from './backupFolder.js';
import { makeBackup } from './making.js';

/*
 * A program of its own, which the desk runs each night and anybody on the machine when they like: makes a backup, and copies it
 * away by the command that was chosen. Kiraku may be running meanwhile, and comes first.
 */

setPriority(constants.priority.PRIORITY_BELOW_NORMAL);
const config = readConfig();
try {
  if (!existsSync(databaseFile(config))) throw new Error(`There is nothing to back up in ${config.dataDir}.`);
  keepPrivate(config.dataDir);
  const key = chosenKey(config) ?? (await chooseKey(config));
  const { at, counts } = await makeBackup(config, key, Date.now());
  if (config.backupCommand !== null) await copyAway(config, config.backupCommand, backupName(at));
  console.log(
    `Backed up to ${config.backupDir}, ${backupName(at)}: ${counts.messages} messages, ${counts.people} people, ${counts.events} events.`,
  );
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}

function chosenKey({ dataDir }: Config): string | undefined {
  const database = openToRead(databaseFile({ dataDir }));
  try {
    return new BackupSettings({ dataDir }, new SettingsRepository(database)).sealedKey();
  } finally {
    database.$client.close();
  }
}

async function chooseKey({ dataDir }: Config): Promise<string> {
  const passphrase = await askInSecret('Choose a passphrase for your backups: ');
  const problem = await choiceProblem(passphrase);
  if (problem !== null) throw new Error(problem);
  const database = openDatabase(databaseFile({ dataDir }));
  try {
    const settings = new BackupSettings({ dataDir }, new SettingsRepository(database));
    await settings.choosePassphrase(passphrase);
    return settings.sealedKey()!;
  } finally {
    database.$client.close();
  }
}

async function copyAway({ backupDir }: Config, command: string, name: string): Promise<void> {
  const env = { ...process.env, KIRAKU_BACKUP: backupDir, KIRAKU_BACKUP_NAME: name };
  const child = spawn('/bin/sh', ['-c', command], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  const [code] = (await once(child, 'exit')) as [number | null];
  if (code !== 0)
    throw new Error(
      `The backup ${name} is made, but the command that copies it elsewhere ended with ${code ?? 'a signal'}.`,
    );
}
