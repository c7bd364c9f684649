import { Inject, Injectable } from '@nestjs/common';
import { and, asc, eq, gt, isNull, notInArray } from 'drizzle-orm';
import { NOT_LEFT } from '@kiraku/core/delivery';
import { DATABASE, type Database } from '../store/database.js';
import { file, fileVersion, incoming, message, template } from '../store/schema.js';

const ROWS_PER_CHUNK = 200;

/** What goes into an archive and is exported nowhere else, read as it is wanted. */
@Injectable()
export class ArchiveRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** The numbers of all messages that have left, in their order, with when. */
  sent(): Generator<{ id: number; at: number; from: string }> {
    return chunks((last) =>
      this.database
        .select({ id: message.id, sentAt: message.sentAt, queuedAt: message.queuedAt, from: message.senderAddress })
        .from(message)
        .where(and(gt(message.id, last), notInArray(message.state, [...NOT_LEFT])))
        .orderBy(asc(message.id))
        .limit(ROWS_PER_CHUNK)
        .all()
        .map(({ sentAt, queuedAt, ...row }) => ({ ...row, at: sentAt ?? queuedAt ?? 0 })),
    );
  }

  /** Replies, receipts and reports, with the words that were kept of them. */
  incoming() {
    const { id, at, kind, messageId, fromAddress: from, subject, words } = incoming;
    return chunks((last) =>
      this.database
        .select({ id, at, kind, messageId, from, subject, words })
        .from(incoming)
        .where(gt(incoming.id, last))
        .orderBy(asc(incoming.id))
        .limit(ROWS_PER_CHUNK)
        .all(),
    );
  }

  templates() {
    const { name, folder, subject, html, createdAt, updatedAt } = template;
    return this.database
      .select({ name, folder, subject, html, createdAt, updatedAt })
      .from(template)
      .where(isNull(template.deletedAt))
      .orderBy(asc(template.name))
      .all();
  }

  /** All versions of all files that are not deleted, by where their bytes are. */
  files(): { fileId: number; number: number; name: string; sha256: string }[] {
    const { fileId, number, sha256 } = fileVersion;
    return this.database
      .select({ fileId, number, name: file.name, sha256 })
      .from(fileVersion)
      .innerJoin(file, eq(file.id, fileId))
      .where(isNull(file.deletedAt))
      .orderBy(asc(fileId), asc(number))
      .all();
  }
}

function* chunks<Row extends { id: number }>(read: (last: number) => Row[]): Generator<Row> {
  for (let last = 0; ;) {
    const rows = read(last);
    yield* rows;
    if (rows.length < ROWS_PER_CHUNK) return;
    last = rows.at(-1)!.id;
  }
}
