import {
  closeSync,
  existsSync,
  fsyncSync,
  openSync,
  readdirSync,
  readSync,
  renameSync,
  rmSync,
  statSync,
} from 'node:fs';
import { join } from 'node:path';
import { lockFile } from '../store/fileLock.js';

/*
 * The journal lies in one folder. Each process that writes one has a run of its own: segments numbered from 1, of which
 * the last is written to, and a lock that it holds until it ends, however it ends.
 */
const SEGMENT = /^(\d+-\d+-[0-9a-f]{8})\.(\d+)\.hits$/;
const LOCK = /^(\d+-(\d+)-[0-9a-f]{8})\.lock$/;

/** A run of the journal, as its files are. */
export interface Run {
  name: string;
  /** In their order. */
  segments: number[];
}

export function segmentFile(folder: string, run: string, segment: number): string {
  return join(folder, `${run}.${segment}.hits`);
}

/** The segment of a run that is made ahead of its time. */
export function nextFile(folder: string, run: string): string {
  return join(folder, `${run}.next`);
}

/** All runs of a folder, the oldest first. */
export function runsOf(folder: string): Run[] {
  const runs = new Map<string, number[]>();
  for (const file of existsSync(folder) ? readdirSync(folder) : []) {
    const name = (SEGMENT.exec(file) ?? LOCK.exec(file))?.[1];
    if (name === undefined) continue;
    const segments = runs.get(name) ?? [];
    const segment = SEGMENT.exec(file)?.[2];
    if (segment !== undefined) segments.push(Number(segment));
    runs.set(name, segments);
  }
  return [...runs]
    .map(([name, segments]) => ({ name, segments: segments.sort((a, b) => a - b) }))
    .sort((a, b) => (a.name < b.name ? -1 : 1));
}

/** Whether a file of the folder holds entries. */
export function isSegment(file: string): boolean {
  return SEGMENT.test(file);
}

/** How large all that lies in a folder is. */
export function bytesOf(folder: string): number {
  return readdirSync(folder).reduce((sum, file) => {
    return sum + (statSync(join(folder, file), { throwIfNoEntry: false })?.size ?? 0);
  }, 0);
}

/** Some bytes of a segment; none where it is not there, or ends before. */
export function readSegment(folder: string, run: string, segment: number, from: number, maxBytes: number): Buffer {
  const file = segmentFile(folder, run, segment);
  if (!existsSync(file)) return Buffer.alloc(0);
  const fd = openSync(file, 'r');
  try {
    const bytes = Buffer.allocUnsafe(maxBytes);
    return bytes.subarray(0, readSync(fd, bytes, 0, maxBytes, from));
  } finally {
    closeSync(fd);
  }
}

/**
 * Takes the lock of a run of this process’s own. Nobody sees its file before it is locked.
 *
 * @returns what lets go of it
 */
export function lockRun(folder: string, run: string): () => void {
  const unseen = join(folder, `${run}.new`);
  const unlock = lockFile(unseen)!;
  renameSync(unseen, fileOfLock(folder, run));
  return unlock;
}

/** Whether the process that wrote a run has ended. */
export function isOver(folder: string, run: string): boolean {
  const file = fileOfLock(folder, run);
  if (!existsSync(file)) return true;
  const unlock = lockFile(file);
  unlock?.();
  return unlock !== null;
}

/** The processes that write to the journal now, by their process numbers. */
export function writersOf(folder: string): number[] {
  return readdirSync(folder).flatMap((file) => {
    const [, run, pid] = LOCK.exec(file) ?? [];
    return run !== undefined && !isOver(folder, run) ? [Number(pid)] : [];
  });
}

/** Removes a segment; it is gone for good when this returns. */
export function removeSegment(folder: string, run: string, segment: number): void {
  rmSync(segmentFile(folder, run, segment), { force: true });
  reachDisk(folder);
}

/** Removes what is left of a run that is over. */
export function removeRun(folder: string, { name, segments }: Run): void {
  for (const segment of segments) rmSync(segmentFile(folder, name, segment), { force: true });
  rmSync(nextFile(folder, name), { force: true });
  rmSync(fileOfLock(folder, name), { force: true });
  reachDisk(folder);
}

/** Makes durable which files a folder has. */
export function reachDisk(folder: string): void {
  const fd = openSync(folder, 'r');
  try {
    fsyncSync(fd);
  } finally {
    closeSync(fd);
  }
}

function fileOfLock(folder: string, run: string): string {
  return join(folder, `${run}.lock`);
}
