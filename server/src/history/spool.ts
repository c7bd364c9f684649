import { createReadStream, createWriteStream, existsSync, mkdirSync, readdirSync, rmSync, statSync } from 'node:fs';
import { open, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { HISTORY_LIMITS } from '@kiraku/core/contract';
import type { Config } from '../environment/config.js';
import { MAX_MAIL_BYTES } from '../incoming/largeMail.js';
import { isMbox, mboxMails } from '../mime/mbox.js';

/** A mail, and how many bytes have been read when it has. */
export interface SpooledMail {
  raw: Buffer;
  readBytes: number;
}

/** The files that mail is imported from, until it is: mbox files, and files of one mail each. */
export class Spool {
  private readonly folder: string;
  private files = 0;
  /** Of all files together. */
  bytes = 0;

  constructor({ dataDir }: Pick<Config, 'dataDir'>) {
    this.folder = join(dataDir, 'history');
  }

  /** Lets go of all files. */
  clear(): void {
    rmSync(this.folder, { recursive: true, force: true });
    this.files = 0;
    this.bytes = 0;
  }

  /**
   * Takes a file in.
   *
   * @param isMore whether it goes on with the file before
   * @throws where there are too many, or they are too large
   */
  async add(bytes: Readable, isMore = false): Promise<void> {
    if (!isMore) this.files += 1;
    if (this.files > HISTORY_LIMITS.maxFiles) throw new Error(`At most ${HISTORY_LIMITS.maxFiles} files at once.`);
    mkdirSync(this.folder, { recursive: true, mode: 0o700 });
    const file = join(this.folder, String(this.files).padStart(6, '0'));
    const before = statSync(file, { throwIfNoEntry: false })?.size ?? 0;
    let room = HISTORY_LIMITS.maxBytes - this.bytes;
    await pipeline(
      bytes,
      async function* (chunks: AsyncIterable<Buffer>) {
        for await (const chunk of chunks) {
          room -= chunk.length;
          if (room < 0) throw new Error(`At most ${HISTORY_LIMITS.maxBytes / 1e9} GB at once: import it in parts.`);
          yield chunk;
        }
      },
      createWriteStream(file, { flags: 'a', mode: 0o600 }),
    );
    this.bytes += statSync(file).size - before;
  }

  async *mails(): AsyncGenerator<SpooledMail> {
    let before = 0;
    for (const name of existsSync(this.folder) ? readdirSync(this.folder).sort() : []) {
      const file = join(this.folder, name);
      const { size } = statSync(file);
      if (isMbox(await beginningOf(file))) {
        const stream = createReadStream(file);
        for await (const raw of mboxMails(stream)) yield { raw, readBytes: before + stream.bytesRead };
      } else if (size <= MAX_MAIL_BYTES) yield { raw: await readFile(file), readBytes: before + size };
      before += size;
    }
  }
}

async function beginningOf(file: string): Promise<Buffer> {
  const handle = await open(file);
  try {
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(16), 0, 16, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle.close();
  }
}
