import { createReadStream, createWriteStream, existsSync, mkdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { copyFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { createGunzip, createGzip } from 'node:zlib';
import type { Config } from '../environment/config.js';
import { ContentStore, sha256Of, type Content } from '../files/contentStore.js';
import { Secrets } from '../settings/secrets.js';
import { lockFile } from '../store/fileLock.js';
import { CERTIFICATE_FILES } from '../submission/certificate.js';
import {
  backupName,
  beginBackup,
  DATABASE_NAME,
  finishBackup,
  noteErasures,
  prune,
  type BackupNote,
} from './backupFolder.js';
import { CopiedDatabase, copyDatabase } from './copiedDatabase.repository.js';

/**
 * Makes a backup of a data folder, which may be in use, looks it through, and lets go of those that are not kept any more.
 * Killed at any moment, it leaves the others as they were.
 *
 * @param key of the data folder, sealed with the passphrase of the backup
 * @throws in words for whoever asked
 */
export async function makeBackup(
  { dataDir, backupDir }: Pick<Config, 'dataDir' | 'backupDir'>,
  key: string,
  now: number,
): Promise<BackupNote> {
  mkdirSync(backupDir, { recursive: true, mode: 0o700 });
  const unlock = lockFile(join(backupDir, '.lock'));
  if (!unlock) throw new Error(`Another backup to ${backupDir} is under way. Wait until it is done.`);
  try {
    const name = backupName(now);
    const part = beginBackup(backupDir, name);
    const copy = join(part, 'kiraku.sqlite');
    await copyDatabase({ dataDir }, copy);
    const { counts, erasures } = CopiedDatabase.read(copy, (found) => ({
      counts: found.counts(),
      erasures: found.erasures(),
    }));
    const database = await pack(copy, join(part, DATABASE_NAME));
    const files = await copyFiles(dataDir, backupDir);
    const note: BackupNote = { format: 1, at: now, database, counts, files, key, besides: besidesOf(dataDir) };
    await finishBackup(backupDir, name, note);
    await noteErasures(backupDir, erasures);
    await prune(backupDir);
    return note;
  } finally {
    unlock();
  }
}

/** Compresses a file, and reads again what was written. The file itself goes. */
async function pack(file: string, packed: string): Promise<Content> {
  const content = { sha256: await sha256Of(createReadStream(file)), size: statSync(file).size };
  await pipeline(createReadStream(file), createGzip(), createWriteStream(packed, { mode: 0o600, flush: true }));
  if ((await sha256Of(createReadStream(packed), createGunzip())) !== content.sha256)
    throw new Error(`What was written to ${packed} is damaged. Check that disk.`);
  rmSync(file);
  return content;
}

/** Copies what no backup of the folder has yet. Returns all that the data folder has, without what is damaged or was just deleted. */
async function copyFiles(dataDir: string, backupDir: string): Promise<Content[]> {
  const [from, to] = [new ContentStore({ dataDir }), new ContentStore({ dataDir: backupDir })];
  const files: Content[] = [];
  for await (const sha256 of from.all()) {
    const size = from.sizeOf(sha256);
    if (to.sizeOf(sha256) === size || (await copyContent(from, to, sha256))) files.push({ sha256, size });
  }
  rmSync(to.incoming(), { recursive: true });
  return files;
}

/** Whether the bytes were there, and are what their name says: what is damaged does not keep all else from being copied. */
export async function copyContent(from: ContentStore, to: ContentStore, sha256: string): Promise<boolean> {
  const scratch = to.scratch();
  try {
    await copyFile(from.pathOf(sha256), scratch);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return false;
    throw error;
  }
  if ((await sha256Of(createReadStream(scratch))) !== sha256) return false;
  rmSync(to.pathOf(sha256), { force: true });
  await to.keep(scratch);
  return true;
}

function besidesOf(dataDir: string): BackupNote['besides'] {
  const secrets = new Secrets({ dataDir });
  return Object.fromEntries(
    CERTIFICATE_FILES.filter((name) => existsSync(join(dataDir, name))).map((name) => [
      name,
      secrets.seal(readFileSync(join(dataDir, name), 'utf8')),
    ]),
  );
}
