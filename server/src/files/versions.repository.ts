import { and, desc, eq, notInArray } from 'drizzle-orm';
import type { Preparation } from '@kiraku/core/contract';
import type { Database } from '../store/database.js';
import { fileVersion, type sentFile } from '../store/schema.js';

export type VersionRow = typeof fileVersion.$inferSelect;
export type SentFileRow = typeof sentFile.$inferSelect;

export const UNPREPARED: Preparation[] = ['checking', 'waiting', 'converting'];

export function versionOf(database: Database, id: number): VersionRow | undefined {
  return database.select().from(fileVersion).where(eq(fileVersion.id, id)).get();
}

/** @param prepared only of those that are ready, or known not to be shown */
export function newestVersion(database: Database, fileId: number, prepared = false): VersionRow | undefined {
  return database
    .select()
    .from(fileVersion)
    .where(and(eq(fileVersion.fileId, fileId), prepared ? notInArray(fileVersion.preparation, UNPREPARED) : undefined))
    .orderBy(desc(fileVersion.number))
    .limit(1)
    .get();
}

/** The version that somebody sees who opens it now. A newer one takes its place once it is ready. */
export function shownVersion(database: Database, { fileId, versionId, followsNewest }: SentFileRow): VersionRow {
  return (followsNewest ? newestVersion(database, fileId, true) : undefined) ?? versionOf(database, versionId)!;
}
