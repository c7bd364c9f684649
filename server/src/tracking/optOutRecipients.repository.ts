import { and, count, eq, inArray } from 'drizzle-orm';
import type { EventKind } from '@kiraku/core/contract';
import type { Database } from '../store/database.js';
import { copy, event, message, person } from '../store/schema.js';

/** What the page to opt out says is seen. */
const RECORDED = ['opened', 'clicked', 'file_viewed'] as const satisfies EventKind[];

export type Recorded = Record<(typeof RECORDED)[number], number>;

/** The recipient of the copy that an image's token names, and who wrote to them. */
export function recipientOf(database: Database, token: string) {
  return database
    .select({
      copyId: copy.id,
      personId: copy.personId,
      optedOutAt: person.optedOutAt,
      senderName: message.senderName,
      senderAddress: message.senderAddress,
      roundId: message.roundId,
    })
    .from(copy)
    .innerJoin(person, eq(person.id, copy.personId))
    .innerJoin(message, eq(message.id, copy.messageId))
    .where(eq(copy.imageToken, token))
    .get();
}

/** How often what a person does was recorded, whether it counts or not. */
export function recordedOf(database: Database, personId: number): Recorded {
  const rows = database
    .select({ kind: event.kind, count: count() })
    .from(copy)
    .innerJoin(event, and(eq(event.messageId, copy.messageId), eq(event.copyId, copy.id)))
    .where(and(eq(copy.personId, personId), inArray(event.kind, RECORDED)))
    .groupBy(event.kind)
    .all();
  const counts = Object.fromEntries(rows.map((row) => [row.kind, row.count]));
  return { opened: 0, clicked: 0, file_viewed: 0, ...counts };
}
