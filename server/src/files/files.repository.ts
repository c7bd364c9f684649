import { Inject, Injectable } from '@nestjs/common';
import {
  and,
  asc,
  count,
  countDistinct,
  desc,
  eq,
  inArray,
  isNull,
  lt,
  max,
  or,
  sql,
  sum,
  type SQL,
} from 'drizzle-orm';
import type { FileReading, FileUse, FileVersion, FileView, SentFile } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { agent, copy, copyFile, event, file, fileVersion, message, reading, sentFile } from '../store/schema.js';
import {
  newestVersion,
  shownVersion,
  UNPREPARED,
  versionOf,
  type SentFileRow,
  type VersionRow,
} from './versions.repository.js';

type FileRow = typeof file.$inferSelect;

/** Whose readings: of one file over all messages, or of all files of one message. */
export type ReadingsOf = { fileId: number } | { messageId: number };

/** A file as it is stored: how far it is prepared is known to what prepares it. */
export type StoredFile = Omit<FileView, 'percent'>;

@Injectable()
export class FilesRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  add(name: string, now: number): number {
    return this.database.insert(file).values({ name, addedAt: now }).returning({ id: file.id }).get().id;
  }

  addVersion(fileId: number, row: Omit<typeof fileVersion.$inferInsert, 'fileId' | 'number'>): VersionRow {
    const last = this.database
      .select({ number: max(fileVersion.number) })
      .from(fileVersion)
      .where(eq(fileVersion.fileId, fileId))
      .get();
    const number = (last?.number ?? 0) + 1;
    return this.database
      .insert(fileVersion)
      .values({ ...row, fileId, number })
      .returning()
      .get();
  }

  setVersion(id: number, set: Partial<VersionRow>): void {
    this.database.update(fileVersion).set(set).where(eq(fileVersion.id, id)).run();
  }

  version(id: number): VersionRow | undefined {
    return versionOf(this.database, id);
  }

  newest(fileId: number): VersionRow | undefined {
    return newestVersion(this.database, fileId);
  }

  /** What was not got ready when the machine stopped, in the order in which it came. */
  nextUnprepared(): VersionRow | undefined {
    return this.database
      .select()
      .from(fileVersion)
      .where(inArray(fileVersion.preparation, UNPREPARED))
      .orderBy(asc(fileVersion.id))
      .limit(1)
      .get();
  }

  /** Undefined for one that was deleted, too. */
  file(id: number): FileRow | undefined {
    return this.database
      .select()
      .from(file)
      .where(and(eq(file.id, id), isNull(file.deletedAt)))
      .get();
  }

  name(id: number): string {
    return this.database.select({ name: file.name }).from(file).where(eq(file.id, id)).get()?.name ?? '';
  }

  rename(id: number, name: string): void {
    this.database.update(file).set({ name }).where(eq(file.id, id)).run();
  }

  setRemoved(id: number, deletedAt: number | null): boolean {
    return this.database.update(file).set({ deletedAt }).where(eq(file.id, id)).run().changes === 1;
  }

  /** The newest first. */
  list(): StoredFile[] {
    return this.views(isNull(file.deletedAt));
  }

  view(id: number): StoredFile | undefined {
    return this.views(eq(file.id, id))[0];
  }

  addSent(row: typeof sentFile.$inferInsert): number {
    return this.database.insert(sentFile).values(row).returning({ id: sentFile.id }).get().id;
  }

  addCopyFiles(rows: (typeof copyFile.$inferInsert)[]): void {
    if (rows.length > 0) this.database.insert(copyFile).values(rows).run();
  }

  /** The tokens of a copy’s files, by the number of the file. */
  tokens(copyId: number): Map<number, string> {
    const rows = this.database
      .select({ fileId: sentFile.fileId, token: copyFile.token })
      .from(copyFile)
      .innerJoin(sentFile, eq(sentFile.id, copyFile.sentFileId))
      .where(eq(copyFile.copyId, copyId))
      .all();
    return new Map(rows.map(({ fileId, token }) => [fileId, token]));
  }

  sentRow(id: number): SentFileRow | undefined {
    return this.database.select().from(sentFile).where(eq(sentFile.id, id)).get();
  }

  setSent(id: number, set: Partial<SentFileRow>): void {
    this.database.update(sentFile).set(set).where(eq(sentFile.id, id)).run();
  }

  sentOf(messageId: number): SentFile[] {
    const rows = this.database
      .select()
      .from(sentFile)
      .where(eq(sentFile.messageId, messageId))
      .orderBy(asc(sentFile.id))
      .all();
    return rows.map((row) => {
      const version = shownVersion(this.database, row);
      const { id, fileId, name, followsNewest, mayDownload, asksAddress, endsAt, closedAt, views, lastViewAt } = row;
      return {
        id,
        messageId,
        fileId,
        name,
        version: versionView(version),
        followsNewest,
        mayDownload,
        asksAddress,
        endsAt,
        closedAt,
        views,
        lastViewAt,
      };
    });
  }

  /** The messages that carried a file, the newest first. */
  uses(fileId: number, limit: number): FileUse[] {
    const rows = this.database
      .select({ sent: sentFile, subject: message.subject, recipients: message.recipients })
      .from(sentFile)
      .innerJoin(message, eq(message.id, sentFile.messageId))
      .where(eq(sentFile.fileId, fileId))
      .orderBy(desc(sentFile.id))
      .limit(limit)
      .all();
    return rows.map(({ sent, ...about }) => {
      const { id, messageId, closedAt, views } = sent;
      return { id, messageId, closedAt, views, ...about, version: shownVersion(this.database, sent).number };
    });
  }

  /** Newest first. */
  readings(which: ReadingsOf, limit: number): FileReading[] {
    const rows = this.database
      .select({
        id: reading.id,
        sentFileId: reading.sentFileId,
        eventId: reading.eventId,
        messageId: copy.messageId,
        subject: message.subject,
        copyId: copy.id,
        version: fileVersion.number,
        recipient: { kind: copy.kind, name: copy.name, address: copy.address },
        counted: event.counted,
        reason: event.reason,
        startedAt: reading.startedAt,
        lastAt: reading.lastAt,
        givenAddress: reading.givenAddress,
        place: event.place,
        device: agent.device,
        system: agent.system,
        program: agent.program,
      })
      .from(reading)
      .innerJoin(sentFile, eq(sentFile.id, reading.sentFileId))
      .innerJoin(copy, eq(copy.id, reading.copyId))
      .innerJoin(message, eq(message.id, copy.messageId))
      .innerJoin(fileVersion, eq(fileVersion.id, reading.versionId))
      .innerJoin(event, eq(event.id, reading.eventId))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(isOf(which))
      .orderBy(desc(reading.id))
      .limit(limit)
      .all();
    const events = this.eventsOfReadings(rows.map(({ id }) => id));
    return rows.map((row) => {
      const own = events.get(row.id) ?? [];
      return {
        ...row,
        downloads: own.filter(({ kind }) => kind === 'downloaded').length,
        visits: own.flatMap(({ visit, page, ms }) => (visit !== null ? [{ visit, page: page!, ms: ms! }] : [])),
      };
    });
  }

  countReadings(which: ReadingsOf): number {
    return this.database
      .select({ n: count() })
      .from(reading)
      .innerJoin(sentFile, eq(sentFile.id, reading.sentFileId))
      .where(isOf(which))
      .get()!.n;
  }

  /** Whether some version, or what was made of it, is made of these bytes. */
  isUsed(sha256: string): boolean {
    const { pagesSha256, firstPageSha256 } = fileVersion;
    const uses = or(...[fileVersion.sha256, pagesSha256, firstPageSha256].map((column) => eq(column, sha256)));
    return this.database.select({ id: fileVersion.id }).from(fileVersion).where(uses).limit(1).get() !== undefined;
  }

  /** Files that were deleted before a time and that no message carries, or is to carry. */
  abandoned(before: number): number[] {
    const carried = sql`select json_extract(value, '$.fileId') from ${message}, json_each(${message.files})`;
    return this.database
      .select({ id: file.id })
      .from(file)
      .leftJoin(sentFile, eq(sentFile.fileId, file.id))
      .where(and(lt(file.deletedAt, before), isNull(sentFile.id), sql`${file.id} not in (${carried})`))
      .all()
      .map(({ id }) => id);
  }

  erase(id: number): void {
    this.database.delete(file).where(eq(file.id, id)).run();
  }

  private eventsOfReadings(readingIds: number[]) {
    const rows = this.database
      .select({
        readingId: event.readingId,
        kind: event.kind,
        visit: event.visit,
        page: event.page,
        ms: event.readMs,
      })
      .from(event)
      .where(inArray(event.readingId, readingIds))
      .orderBy(event.readingId, event.visit)
      .all();
    const byReading = new Map<number, typeof rows>();
    for (const row of rows) byReading.set(row.readingId!, [...(byReading.get(row.readingId!) ?? []), row]);
    return byReading;
  }

  private views(which: SQL): StoredFile[] {
    const files = this.database
      .select({
        id: file.id,
        name: file.name,
        addedAt: file.addedAt,
        lastViewAt: max(sentFile.lastViewAt),
        messages: countDistinct(sentFile.messageId),
        views: sql<number>`coalesce(${sum(sentFile.views)}, 0)`.mapWith(Number),
      })
      .from(file)
      .leftJoin(sentFile, eq(sentFile.fileId, file.id))
      .where(which)
      .groupBy(file.id)
      .orderBy(desc(file.id))
      .all();
    const versions = this.database
      .select()
      .from(fileVersion)
      .where(
        inArray(
          fileVersion.fileId,
          files.map(({ id }) => id),
        ),
      )
      .orderBy(desc(fileVersion.number))
      .all();
    const byFile = new Map<number, FileVersion[]>();
    for (const row of versions) byFile.set(row.fileId, [...(byFile.get(row.fileId) ?? []), versionView(row)]);
    return files.map((row) => ({ ...row, versions: byFile.get(row.id) ?? [] }));
  }
}

function isOf(which: ReadingsOf): SQL {
  return 'fileId' in which ? eq(sentFile.fileId, which.fileId) : eq(sentFile.messageId, which.messageId);
}

function versionView(row: VersionRow): FileVersion {
  const { id, number, size, mediaType, kind, pages, preparation, problem, addedAt } = row;
  return { id, number, size, mediaType, kind, pages, preparation, problem, addedAt };
}
