import { randomBytes } from 'node:crypto';
import { constants, mkdirSync } from 'node:fs';
import { open, rename, type FileHandle } from 'node:fs/promises';
import { framesOf } from './frames.js';
import { bytesOf, lockRun, nextFile, reachDisk, segmentFile } from './journalFiles.js';

/** A segment as large as its capacity is followed by the next, which is larger where there was much to write. */
const MIN_SEGMENT_BYTES = 256 * 1024;
const MAX_SEGMENT_BYTES = 8 * 1024 * 1024;
/** What has been applied lies in no segment for longer. */
const MAX_SEGMENT_AGE_MS = 60_000;
/** No more lies there: while the desk is away, whoever floods the public site is not to fill the disk. */
const MAX_JOURNAL_BYTES = 2 * 1024 * 1024 * 1024;
/** More entries than this wait in no queue, so that memory stays bounded. */
const MAX_QUEUED_ENTRIES = 20_000;
/** So long the disk is left alone after it has failed. */
const DISK_PAUSE_MS = 1000;

export class TooBusyError extends Error {}

interface Prepared {
  file: FileHandle;
  /** In bytes. */
  capacity: number;
}

type Written = (error: Error | null) => void;

/**
 * The writing end of the journal: a run of this process’s own. Entries that come while others are written are the next
 * group, and an entry is written when it would survive the loss of power (O_DSYNC).
 */
export class Journal<Entry> {
  private readonly run = `${Date.now()}-${process.pid}-${randomBytes(4).toString('hex')}`;
  private readonly unlock: () => void;
  private readonly aging = setInterval(() => this.age(), MAX_SEGMENT_AGE_MS).unref();
  private texts: string[] = [];
  private waiting: Written[] = [];
  private file: FileHandle | undefined;
  private segment = 0;
  private segmentBytes = 0;
  private capacity = 0;
  private prepared: Promise<Prepared> | undefined;
  private sequence = 1;
  private isWriting = false;
  private isOld = false;
  private failure: { at: number; error: unknown } | undefined;
  private idle: (() => void) | undefined;

  /**
   * @param folder made where there is none
   * @param maxBytes of all that lies in it; several of the largest segments
   */
  constructor(
    private readonly folder: string,
    private readonly maxBytes = MAX_JOURNAL_BYTES,
  ) {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    this.unlock = lockRun(folder, this.run);
  }

  /** Writes an entry, as JSON. What is given is called once: with null when it is durable, else with why it is not written. */
  append(entry: Entry, written: Written): void {
    if (this.texts.length >= MAX_QUEUED_ENTRIES) return written(new TooBusyError('Too many entries at once'));
    this.texts.push(JSON.stringify(entry));
    this.waiting.push(written);
    // After the requests that are already readable: they join this group.
    if (!this.isWriting && this.texts.length === 1) setImmediate(() => this.isWriting || this.writeGroups());
  }

  /** Resolves when all is written; nothing may be appended any more. */
  async close(): Promise<void> {
    clearInterval(this.aging);
    if (this.isWriting || this.texts.length > 0) await new Promise<void>((resolve) => (this.idle = resolve));
    await this.file?.close();
    await this.dropPrepared();
    this.unlock();
  }

  /** Writes what waits as one group, and so on until nothing does. */
  private writeGroups(): void {
    const [texts, waiting] = [this.texts, this.waiting];
    this.isWriting = texts.length > 0;
    if (!this.isWriting) return this.idle?.();
    this.texts = [];
    this.waiting = [];
    const next = (error: Error | null) => {
      // The next group is on its way to the disk while this one is answered.
      this.writeGroups();
      for (const written of waiting) written(error);
    };
    this.write(texts).then(() => next(null), next);
  }

  private async write(texts: readonly string[]): Promise<void> {
    if (this.failure && performance.now() - this.failure.at < DISK_PAUSE_MS) throw this.failure.error;
    try {
      const file = this.file && this.segmentBytes < this.capacity && !this.isOld ? this.file : await this.next();
      const bytes = framesOf(texts, this.sequence);
      // No sequence is used again: its entries may have been read though they were not durable.
      this.sequence += texts.length;
      for (let at = 0; at < bytes.length;)
        at += (await file.write(bytes, at, bytes.length - at, this.segmentBytes + at)).bytesWritten;
      this.segmentBytes += bytes.length;
      if (this.segmentBytes > this.capacity / 2) this.prepareNext(Math.min(this.capacity * 4, MAX_SEGMENT_BYTES));
    } catch (error) {
      this.failure = { at: performance.now(), error };
      await this.leave();
      throw error;
    }
  }

  /** Begins the next segment; nothing more goes into the one before. */
  private async next(): Promise<FileHandle> {
    const { file: before } = this;
    this.file = undefined;
    await before?.close();
    if (bytesOf(this.folder) > this.maxBytes) throw new Error('The journal is full: the desk has not applied it');
    this.prepareNext(MIN_SEGMENT_BYTES);
    const { file, capacity } = await this.prepared!;
    this.segment += 1;
    await rename(nextFile(this.folder, this.run), segmentFile(this.folder, this.run, this.segment));
    this.prepared = undefined;
    this.file = file;
    this.capacity = capacity;
    this.segmentBytes = 0;
    this.isOld = false;
    reachDisk(this.folder);
    return file;
  }

  /** Makes the file of the next segment ahead of its time, since that takes long. */
  private prepareNext(capacity: number): void {
    if (this.prepared) return;
    this.prepared = prepare(nextFile(this.folder, this.run), capacity);
    // Whoever needs it learns of it.
    this.prepared.catch(() => undefined);
  }

  /** Leaves a segment that could not be written, without what is half in it, and one that was made ahead. */
  private async leave(): Promise<void> {
    const { file } = this;
    this.file = undefined;
    await file?.truncate(this.segmentBytes).catch(() => undefined);
    await file?.close().catch(() => undefined);
    await this.dropPrepared();
  }

  /** What still fills it with zeros would write over the entries of another by its name. */
  private async dropPrepared(): Promise<void> {
    await this.prepared?.then(({ file }) => file.close()).catch(() => undefined);
    this.prepared = undefined;
  }

  /** A segment that was there a minute ago is followed by a new one, so that it can go once it has been applied. */
  private age(): void {
    if (this.isWriting || this.segmentBytes === 0) return;
    if (!this.isOld) {
      this.isOld = true;
      return;
    }
    this.isWriting = true;
    void this.next()
      .catch(() => this.leave())
      .finally(() => this.writeGroups());
  }
}

/**
 * Makes a file that is written to its end, with zeros, and durable. To write over them, the disk has nothing to note but
 * their octets: it takes a third of the time, and waits for no other file.
 */
async function prepare(path: string, capacity: number): Promise<Prepared> {
  const blank = await open(path, 'w', 0o600);
  try {
    const zeros = Buffer.alloc(MIN_SEGMENT_BYTES);
    for (let at = 0; at < capacity; at += zeros.length) await blank.write(zeros, 0, zeros.length, at);
    await blank.sync();
  } finally {
    await blank.close();
  }
  return { file: await open(path, constants.O_WRONLY | constants.O_DSYNC), capacity };
}
