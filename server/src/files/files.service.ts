import { readFile, rm, writeFile } from 'node:fs/promises';
import { Injectable } from '@nestjs/common';
import type {
  DraftFile,
  FileKind,
  FileReadings,
  FileUse,
  FileView,
  SentFile,
  SentFileChange,
} from '@kiraku/core/contract';
import { FILE_LIMITS, fileName, isLinked, kindOfType, sizeWords } from '@kiraku/core/files';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { invalid, notFound } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { newToken } from '../tracking/tokens.js';
import { ContentStore, type Content } from './contentStore.js';
import { FilesRepository, type StoredFile, type ReadingsOf } from './files.repository.js';
import { inspect, type Inspection } from './inspection.js';
import { prepared, Preparing } from './preparing.js';
import type { VersionRow } from './versions.repository.js';

/** A file as it travels with a message. */
export interface CarriedFile extends DraftFile {
  name: string;
  version: VersionRow;
}

/** What of it stands with a message. */
export function draftFileOf({ name: _name, version: _version, ...file }: CarriedFile): DraftFile {
  return file;
}

/** Until it is looked at. */
const NOT_KNOWN = { mediaType: 'application/octet-stream', kind: 'other', preparation: 'checking' } as const;
/** Of one file; older readings are in the export. */
const MAX_READINGS = 200;
const MAX_FILE_USES = 100;
/** What was deleted can be restored for so long. */
const KEEP_REMOVED_MS = DAY;

/** The library, and what travels of it. */
@Injectable()
export class FilesService {
  constructor(
    private readonly files: FilesRepository,
    private readonly store: ContentStore,
    private readonly preparing: Preparing,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  list(): FileView[] {
    return this.files.list().map((file) => this.withPercent(file));
  }

  view(id: number): FileView {
    const view = this.files.view(id);
    if (!view) throw notFound('file');
    return this.withPercent(view);
  }

  /**
   * Takes a file in that lies on the disk already, as a new one or as a new version of one.
   *
   * @param path is moved away
   * @param known what was found out about it already
   */
  async take(path: string, givenName: string, fileId: number | null, known?: Inspection): Promise<FileView> {
    if (fileId !== null && !this.files.file(fileId)) throw notFound('file');
    const content = await this.store.keep(path);
    const id = this.write(content, fileName(givenName), fileId, known);
    this.preparing.wake();
    return this.view(id);
  }

  /**
   * Takes bytes in as a file of their own, if they are of one of some kinds by their content.
   *
   * @returns its number; null where they are of another kind
   */
  async takeBytes(bytes: Buffer, givenName: string, kinds: readonly FileKind[]): Promise<number | null> {
    const path = this.store.scratch();
    await writeFile(path, bytes);
    const known = await inspect(path, { home: this.store.incoming() });
    if (kinds.includes(kindOfType(known.mediaType))) return (await this.take(path, givenName, null, known)).id;
    await rm(path);
    return null;
  }

  private withPercent(file: StoredFile): FileView {
    const [newest] = file.versions;
    return { ...file, percent: newest ? this.preparing.percentOf(newest.id) : null };
  }

  private write({ sha256, size }: Content, name: string, fileId: number | null, known?: Inspection): number {
    const now = this.clock.now();
    return this.unit.commit(() => {
      const id = fileId ?? this.files.add(name, now);
      const seen = known ? prepared(known) : NOT_KNOWN;
      this.files.addVersion(id, { sha256, size, addedAt: now, ...seen });
      return id;
    });
  }

  rename(id: number, name: string): FileView {
    if (!this.files.file(id)) throw notFound('file');
    this.files.rename(id, fileName(name));
    return this.view(id);
  }

  /** Takes it out of the library. Links you sent still work. */
  remove(id: number): void {
    if (!this.files.setRemoved(id, this.clock.now())) throw notFound('file');
  }

  restore(id: number): FileView {
    if (!this.files.setRemoved(id, null)) throw notFound('file');
    return this.view(id);
  }

  /** Of one file over all messages, or of all files of one message; of very many, the newest. */
  readings(which: ReadingsOf): FileReadings {
    const readings = this.files.readings(which, MAX_READINGS);
    return { readings, leftOut: this.files.countReadings(which) - readings.length };
  }

  /** Where it was sent: of very many messages, the newest. */
  uses(fileId: number): FileUse[] {
    return this.files.uses(fileId, MAX_FILE_USES);
  }

  sentOf(messageId: number): SentFile[] {
    return this.files.sentOf(messageId);
  }

  /** Changes what holds for a link that was sent, at once. */
  change(sentFileId: number, change: SentFileChange): SentFile {
    const row = this.files.sentRow(sentFileId);
    if (!row) throw notFound('sent file');
    const { closed, ...set } = change;
    const closedAt = closed === undefined ? row.closedAt : closed ? this.clock.now() : null;
    this.unit.commit(() => {
      this.files.setSent(sentFileId, { ...set, closedAt });
      this.unit.note({ messageId: row.messageId });
    });
    return this.files.sentOf(row.messageId).find(({ id }) => id === sentFileId)!;
  }

  /** The files of a draft as they travel: each with the version that leaves. */
  carried(files: readonly DraftFile[]): CarriedFile[] {
    return files.flatMap((one) => {
      const version = one.versionId === null ? this.files.newest(one.fileId) : this.files.version(one.versionId);
      return version ? [{ ...one, versionId: version.id, name: this.files.name(one.fileId), version }] : [];
    });
  }

  /** @throws 422 where one of them never was in the library. One that was deleted keeps nobody from writing on. */
  checkKnown(files: readonly DraftFile[]): void {
    for (const { fileId } of files) if (!this.files.newest(fileId)) throw invalid('There is no such file.');
  }

  /**
   * @returns how large those are that travel as an attachment, in bytes
   * @throws 422 where they cannot travel together
   */
  checkCarried(files: readonly DraftFile[]): number {
    for (const { fileId } of files)
      if (!this.files.file(fileId))
        throw invalid('A file of this message was deleted. Remove it, or restore it in the library.');
    const attached = this.carried(files).filter((one) => !isLinked(one));
    const size = attached.reduce((sum, { version }) => sum + version.size, 0);
    if (size > FILE_LIMITS.maxAttachedBytes)
      throw invalid(
        `The attachments have ${sizeWords(size)} together; mail servers reject more than about ` +
          `${sizeWords(FILE_LIMITS.maxAttachedBytes)}. Send the larger ones as links.`,
      );
    return size;
  }

  /** Writes down what a message carried as links. Returns the number of each by its file. */
  commit(messageId: number, files: readonly CarriedFile[]): Map<number, number> {
    const now = this.clock.now();
    return new Map(
      files.filter(isLinked).map(({ fileId, name, version, followsNewest, mayDownload, asksAddress, openForDays }) => [
        fileId,
        this.files.addSent({
          messageId,
          fileId,
          name,
          versionId: version.id,
          followsNewest,
          mayDownload,
          asksAddress,
          endsAt: openForDays === null ? null : now + openForDays * DAY,
        }),
      ]),
    );
  }

  /** New addresses for the files of one copy, by file. */
  newTokens(files: readonly CarriedFile[]): Map<number, string> {
    return new Map(files.filter(isLinked).map(({ fileId }) => [fileId, newToken()]));
  }

  commitTokens(copyId: number, tokens: ReadonlyMap<number, string>, sentFileIds: ReadonlyMap<number, number>): void {
    this.files.addCopyFiles(
      [...tokens].map(([fileId, token]) => ({ token, copyId, sentFileId: sentFileIds.get(fileId)! })),
    );
  }

  tokensOf(copyId: number): Map<number, string> {
    return this.files.tokens(copyId);
  }

  async bytesOf({ version }: CarriedFile): Promise<Buffer> {
    return readFile(await this.store.checked(version.sha256));
  }

  /** Lets go of what was deleted and is of no use to any message, and of bytes that nothing is made of. */
  async deleteExpired(): Promise<void> {
    for (const id of this.files.abandoned(this.clock.now() - KEEP_REMOVED_MS)) this.files.erase(id);
    for await (const sha256 of this.store.all())
      if (!this.files.isUsed(sha256)) this.store.removeOld(sha256, Date.now());
  }
}
