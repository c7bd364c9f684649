import { createHash, randomUUID } from 'node:crypto';
import { createReadStream, existsSync, mkdirSync, rmSync, statSync, utimesSync } from 'node:fs';
import { open, readdir, rename, rm, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { HOUR } from '@kiraku/core/time';
import type { Config } from '../environment/config.js';

const SHA256 = /^[0-9a-f]{64}$/;

/** Reading more than this through would keep whoever waits for it. */
const MAX_HASHED_BYTES = 256 * 1024 * 1024;

/** What lies on the disk is not what was kept. */
export class DamagedError extends Error {}

/** Bytes by their SHA-256. */
export interface Content {
  sha256: string;
  size: number;
}

/**
 * Keeps the bytes of files beside the database, each once, by their SHA-256 (FIPS 180-4): what is there never changes. A
 * file is written elsewhere, reaches the disk, and only then gets its name, so that what has a name is whole.
 */
export class ContentStore {
  private readonly folder: string;
  /** What was found whole since the start. */
  private readonly wholes = new Set<string>();

  constructor(config: Pick<Config, 'dataDir'>) {
    this.folder = join(config.dataDir, 'files');
  }

  /** A folder for what is on its way in; of the same file system, so that it can be renamed. */
  incoming(): string {
    const folder = join(this.folder, 'incoming');
    mkdirSync(folder, { recursive: true });
    return folder;
  }

  /** A path that nobody else uses, for something that is to be kept. */
  scratch(): string {
    return join(this.incoming(), randomUUID());
  }

  pathOf(sha256: string): string {
    if (!SHA256.test(sha256)) throw new RangeError('Not a SHA-256');
    return join(this.folder, sha256.slice(0, 2), sha256);
  }

  /** Keeps a file by moving it; it is durable when this resolves. */
  async keep(path: string): Promise<Content> {
    const content = await contentOf(path);
    const target = this.pathOf(content.sha256);
    if (existsSync(target)) {
      // So that it is not taken for something that nobody wants any more.
      utimesSync(target, new Date(), new Date());
      await rm(path);
      return content;
    }
    mkdirSync(dirname(target), { recursive: true });
    await reachDisk(path);
    await rename(path, target);
    await reachDisk(dirname(target));
    return content;
  }

  /**
   * Where bytes are that are to be read: the first time since the start, only after they were found to be what their name
   * says. Very large ones are not kept waiting for.
   *
   * @throws DamagedError where they are not, or are gone
   */
  async checked(sha256: string): Promise<string> {
    const path = this.pathOf(sha256);
    if (this.wholes.has(sha256)) return path;
    if (this.sizeOf(sha256) <= MAX_HASHED_BYTES && !(await this.isWhole(sha256))) throw new DamagedError(sha256);
    this.wholes.add(sha256);
    return path;
  }

  /** In bytes; 0 for what is gone. */
  sizeOf(sha256: string): number {
    return statSync(this.pathOf(sha256), { throwIfNoEntry: false })?.size ?? 0;
  }

  /** Whether the bytes still are what their name says. */
  async isWhole(sha256: string): Promise<boolean> {
    const path = this.pathOf(sha256);
    return existsSync(path) && (await contentOf(path)).sha256 === sha256;
  }

  /** All that is kept, by their SHA-256. */
  async *all(): AsyncGenerator<string> {
    for (const part of await readdir(this.folder).catch(() => []))
      if (/^[0-9a-f]{2}$/.test(part))
        for (const sha256 of await readdir(join(this.folder, part))) if (SHA256.test(sha256)) yield sha256;
  }

  /**
   * Lets go of bytes that nobody wants, unless they came, or came again, within the hour: whoever wants them may be
   * about to write it down.
   */
  removeOld(sha256: string, now: number): void {
    const path = this.pathOf(sha256);
    if (now - statSync(path).mtimeMs < HOUR) return;
    rmSync(path);
    this.wholes.delete(sha256);
  }
}

async function contentOf(path: string): Promise<Content> {
  const sha256 = await sha256Of(createReadStream(path, { highWaterMark: 1024 * 1024 }));
  return { sha256, size: (await stat(path)).size };
}

/**
 * Of what is read, in hexadecimal digits.
 *
 * @param through what it goes through first
 */
export async function sha256Of(bytes: Readable, ...through: Transform[]): Promise<string> {
  const hash = createHash('sha256');
  await pipeline([bytes, ...through, hash]);
  return hash.digest('hex');
}

/** Resolves when a file, or what a folder says of its files, would survive the loss of power. */
export async function reachDisk(path: string): Promise<void> {
  const handle = await open(path, 'r');
  await handle.sync().finally(() => handle.close());
}
