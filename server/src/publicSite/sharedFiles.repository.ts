import { and, eq, sql } from 'drizzle-orm';
import type { Database } from '../store/database.js';
import { preparedOnce } from '../store/preparedOnce.js';
import { copy, copyFile, message, person, reading, sentFile } from '../store/schema.js';
import { shownVersion, versionOf, type SentFileRow, type VersionRow } from '../files/versions.repository.js';

/** What the viewer needs of the address that was asked for. */
export interface Shared {
  sent: SentFileRow;
  copyId: number;
  personId: number;
  imageToken: string;
  senderName: string;
  senderAddress: string;
  disclose: boolean;
  declined: boolean;
}

/** A reading that has begun. */
export interface Reading {
  copyId: number;
  sentFileId: number;
  versionId: number;
  givenAddress: string | null;
}

const sharedFileQuery = preparedOnce((database) =>
  database
    .select({
      sent: sentFile,
      copyId: copy.id,
      personId: copy.personId,
      imageToken: copy.imageToken,
      optedOutAt: person.optedOutAt,
      senderName: message.senderName,
      senderAddress: message.senderAddress,
      disclose: message.disclose,
    })
    .from(copyFile)
    .innerJoin(sentFile, eq(sentFile.id, copyFile.sentFileId))
    .innerJoin(copy, eq(copy.id, copyFile.copyId))
    .innerJoin(message, eq(message.id, copy.messageId))
    .innerJoin(person, eq(person.id, copy.personId))
    .where(eq(copyFile.token, sql.placeholder('token')))
    .prepare(),
);

const readingQuery = preparedOnce((database) => {
  const { copyId, sentFileId, versionId, givenAddress } = reading;
  const { placeholder } = sql;
  return database
    .select({ copyId, sentFileId, versionId, givenAddress })
    .from(reading)
    .where(
      and(
        eq(reading.key, placeholder('key')),
        eq(copyId, placeholder('copyId')),
        eq(sentFileId, placeholder('sentFileId')),
      ),
    )
    .prepare();
});

/** What stands behind an address of a file at the public site. */
export function sharedFile(database: Database, token: string): Shared | undefined {
  const row = sharedFileQuery(database).get({ token });
  if (!row) return undefined;
  const { optedOutAt, ...shared } = row;
  return { ...shared, declined: optedOutAt !== null };
}

/** A reading by its name, if it belongs to that copy and file. */
export function readingOf(
  database: Database,
  key: string,
  { copyId, sent }: Pick<Shared, 'copyId' | 'sent'>,
): Reading | undefined {
  return readingQuery(database).get({ key, copyId, sentFileId: sent.id });
}

/** The version with which a reading began, else the one that is shown now. */
export function versionFor(database: Database, { sent }: Pick<Shared, 'sent'>, begun: Reading | undefined): VersionRow {
  return begun ? versionOf(database, begun.versionId)! : shownVersion(database, sent);
}
