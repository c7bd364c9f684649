import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { keptBackups } from '@kiraku/core/backup';
import { ContentStore, reachDisk, type Content } from '../files/contentStore.js';
import type { Erasure } from '../people/erasures.repository.js';
import type { Counts } from './copiedDatabase.repository.js';

/*
 * A folder of backups has one folder for each, named by its time in UTC, and one of the files that any of them has, each
 * once, under the SHA-256 of its bytes. What is not whole yet is called “.part”. Beside them stands who was erased, which a
 * backup that is restored must know though it is older.
 */
export const DATABASE_NAME = 'kiraku.sqlite.gz';
const NOTE_NAME = 'backup.json';
const ERASURES_NAME = 'erased.json';
const NAME = /^(\d{4}-\d\d-\d\dT\d\d)-(\d\d)-(\d\d)Z$/;
const PART = '.part';

/** What a backup says of itself. */
export interface BackupNote {
  format: 1;
  /** When it was made, in epoch milliseconds. */
  at: number;
  /** Of the database, before it was compressed. */
  database: Content;
  counts: Counts;
  files: Content[];
  /** The key of the data folder, sealed with the passphrase of the backup. */
  key: string;
  /** What else lies in the data folder, by its name: sealed with that key. */
  besides: Record<string, string>;
}

/** A backup that is whole. */
export interface Backup {
  name: string;
  at: number;
}

/** “2026-12-01T03-00-00Z”: names of files cannot have a colon everywhere. */
export function backupName(at: number): string {
  return `${new Date(at).toISOString().slice(0, 19).replaceAll(':', '-')}Z`;
}

/** The backups of a folder, the newest first. */
export function backupsOf(folder: string): Backup[] {
  return namesIn(folder)
    .flatMap((name) => {
      const at = Date.parse(name.replace(NAME, '$1:$2:$3Z'));
      return NAME.test(name) && !Number.isNaN(at) ? [{ name, at }] : [];
    })
    .sort((a, b) => b.at - a.at);
}

/** @throws where it cannot be read, or is of a later version */
export function readNote(folder: string, { name }: Pick<Backup, 'name'>): BackupNote {
  const note = JSON.parse(readFileSync(join(folder, name, NOTE_NAME), 'utf8')) as BackupNote;
  if (note.format === 1) return note;
  throw new Error(`The backup ${name} was made by a later version of Kiraku. Restore it with that version.`);
}

/** Begins a backup: a folder that becomes one when it is {@link finishBackup finished}. */
export function beginBackup(folder: string, name: string): string {
  for (const old of namesIn(folder).filter((one) => one.endsWith(PART))) rmSync(join(folder, old), { recursive: true });
  if (existsSync(join(folder, name))) throw new Error(`There is a backup of this second already: ${name}.`);
  const part = join(folder, `${name}${PART}`);
  mkdirSync(part, { mode: 0o700 });
  return part;
}

/** Gives a backup its name once all of it has reached the disk. */
export async function finishBackup(folder: string, name: string, note: BackupNote): Promise<void> {
  const part = join(folder, `${name}${PART}`);
  await writeFile(join(part, NOTE_NAME), JSON.stringify(note), { mode: 0o600, flush: true });
  await reachDisk(part);
  await rename(part, join(folder, name));
  await reachDisk(folder);
}

/** Lets go of backups that are not kept any more, and of files that none of those left has. */
export async function prune(folder: string): Promise<void> {
  const backups = backupsOf(folder);
  const kept = new Set(keptBackups(backups.map(({ at }) => at)));
  for (const { name, at } of backups) if (!kept.has(at)) rmSync(join(folder, name), { recursive: true });
  const wanted = filesOf(folder);
  // Where one of them cannot be read, what it has is not known, and nothing goes.
  if (!wanted) return;
  const store = new ContentStore({ dataDir: folder });
  for await (const sha256 of store.all()) if (!wanted.has(sha256)) rmSync(store.pathOf(sha256));
}

/** The files that the backups have, by their SHA-256; null where one of them cannot be read. */
function filesOf(folder: string): Set<string> | null {
  try {
    const notes = backupsOf(folder).map((backup) => readNote(folder, backup));
    return new Set(notes.flatMap(({ files }) => files.map(({ sha256 }) => sha256)));
  } catch {
    return null;
  }
}

/** Who was erased, as far as the folder knows. */
export function erasuresIn(folder: string): Erasure[] {
  const file = join(folder, ERASURES_NAME);
  return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as Erasure[]) : [];
}

/** Adds who was erased, if there is such a folder. */
export async function noteErasures(folder: string, erasures: readonly Erasure[]): Promise<void> {
  if (!existsSync(folder)) return;
  const all = new Map([...erasuresIn(folder), ...erasures].map(({ mark, at }) => [mark, at]));
  const text = JSON.stringify([...all].map(([mark, at]) => ({ mark, at })));
  const file = join(folder, ERASURES_NAME);
  await writeFile(`${file}${PART}`, text, { mode: 0o600, flush: true });
  await rename(`${file}${PART}`, file);
  await reachDisk(folder);
}

/** None where there is no such folder. */
function namesIn(folder: string): string[] {
  return statSync(folder, { throwIfNoEntry: false })?.isDirectory() ? readdirSync(folder) : [];
}
