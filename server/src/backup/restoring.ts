import { createReadStream, createWriteStream, existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { databaseFile, type Config } from '../environment/config.js';
import { ContentStore, reachDisk, sha256Of } from '../files/contentStore.js';
import { KEY_NAME, openWith } from '../settings/secrets.js';
import { backupsOf, DATABASE_NAME, erasuresIn, readNote, type BackupNote } from './backupFolder.js';
import { CopiedDatabase } from './copiedDatabase.repository.js';
import { copyContent } from './making.js';
import { RESTORED_NAME, type RestoredNote } from './restoredNote.js';
import { openWithPassphrase } from './sealing.js';

/** Where a restore is gathered, within the data folder: the folder itself may be a disk of its own. */
const GATHERED = 'restoring';

/** What is to be restored. */
export interface Restoring {
  /** Of a backup; undefined for the newest. */
  name: string | undefined;
  /** What the backup’s key was sealed with. */
  passphrase: string;
}

/**
 * Brings a backup back to an empty data folder. It is complete when its database gets its name: killed before, it is done
 * again from the beginning.
 *
 * @throws in words for whoever asked
 */
export async function restoreBackup(
  { dataDir, backupDir }: Pick<Config, 'dataDir' | 'backupDir'>,
  { name, passphrase }: Restoring,
  now: number,
): Promise<BackupNote> {
  checkEmpty(dataDir);
  const backups = backupsOf(backupDir);
  const backup = name === undefined ? backups[0] : backups.find((one) => one.name === name);
  if (!backup) throw new Error(missing(backupDir, name, backups));
  const note = readNote(backupDir, backup);
  const key = Buffer.from(await openWithPassphrase(passphrase, note.key), 'base64url');
  const gathered = join(dataDir, GATHERED);
  if (existsSync(gathered)) for (const left of readdirSync(dataDir)) rmSync(join(dataDir, left), { recursive: true });
  mkdirSync(gathered, { recursive: true, mode: 0o700 });
  await unpackDatabase(join(backupDir, backup.name, DATABASE_NAME), databaseFile({ dataDir: gathered }), note);
  await copyFiles(backupDir, gathered, note);
  await write(KEY_NAME, key);
  for (const [file, sealed] of Object.entries(note.besides)) await write(basename(file), openWith(key, sealed));
  const erased = erasuresIn(backupDir).filter(({ at }) => at > note.at);
  const restored: RestoredNote = { at: now, erased: erased.map(({ mark }) => mark) };
  await write(RESTORED_NAME, JSON.stringify(restored));
  await reachDisk(gathered);
  await giveNames(gathered, dataDir);
  return note;

  function write(file: string, bytes: string | Buffer): Promise<void> {
    return writeFile(join(gathered, file), bytes, { mode: 0o600, flush: true });
  }
}

/** @throws where there is data, except for what a restore has left that was broken off */
function checkEmpty(dataDir: string): void {
  const names = existsSync(dataDir) ? readdirSync(dataDir) : [];
  const isBrokenOff = names.includes(GATHERED) && !names.includes(basename(databaseFile({ dataDir })));
  if (names.length > 0 && !isBrokenOff)
    throw new Error(`There is data in ${dataDir} already. Move it away, or set KIRAKU_DATA to an empty folder.`);
}

async function copyFiles(backupDir: string, gathered: string, { files }: BackupNote): Promise<void> {
  const [from, to] = [new ContentStore({ dataDir: backupDir }), new ContentStore({ dataDir: gathered })];
  for (const { sha256 } of files)
    if (!(await copyContent(from, to, sha256))) {
      const what = existsSync(from.pathOf(sha256)) ? 'damaged' : 'missing';
      throw new Error(`${from.pathOf(sha256)} is ${what}. Copy it there from another copy of ${backupDir}.`);
    }
}

/** The database last. */
async function giveNames(gathered: string, dataDir: string): Promise<void> {
  const database = basename(databaseFile({ dataDir }));
  for (const name of readdirSync(gathered).filter((one) => one !== database)) move(name);
  await reachDisk(dataDir);
  move(database);
  rmSync(gathered, { recursive: true });
  await reachDisk(dataDir);

  function move(name: string): void {
    renameSync(join(gathered, name), join(dataDir, name));
  }
}

/** @throws where it is not what was backed up */
async function unpackDatabase(packed: string, file: string, { database, counts }: BackupNote): Promise<void> {
  const damaged = `${packed} is damaged. Restore an earlier backup: name it after the command.`;
  await pipeline(createReadStream(packed), createGunzip(), createWriteStream(file, { mode: 0o600, flush: true })).catch(
    (error: unknown) => {
      throw new Error(damaged, { cause: error });
    },
  );
  if ((await sha256Of(createReadStream(file))) !== database.sha256) throw new Error(damaged);
  const found = CopiedDatabase.read(file, (copy) => copy.counts());
  for (const [what, count] of Object.entries(counts))
    if (found[what as keyof typeof found] !== count) throw new Error(`${damaged} Its ${what} are not complete.`);
}

function missing(folder: string, name: string | undefined, backups: readonly { name: string }[]): string {
  if (backups.length === 0) return `There is no backup in ${folder}. Set KIRAKU_BACKUP to the folder that has some.`;
  return `There is no backup ${name} in ${folder}. There are: ${backups.map((one) => one.name).join(', ')}.`;
}
