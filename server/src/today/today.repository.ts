import { Inject, Injectable } from '@nestjs/common';
import { and, desc, eq, gt, isNull, or, sql } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { copy, message, person } from '../store/schema.js';

/** A recipient who did something lately, with the message it was done with. */
export interface Busy {
  messageId: number;
  copyId: number;
  repliedAt: number | null;
  person: { id: number; name: string; address: string; company: string; phone: string };
  resolvedAt: number | null;
}

@Injectable()
export class TodayRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Recipients of messages that something happened to since a time, the latest first; not those who are snoozed. */
  busy(since: number, now: number, maxMessages: number): Busy[] {
    const recentActivity = this.database
      .select({ id: message.id })
      .from(message)
      .where(
        and(
          isNull(message.folder),
          gt(message.lastActivityAt, since),
          eq(message.state, 'sent'),
          gt(message.lastActivityAt, message.sentAt),
        ),
      )
      .orderBy(desc(message.lastActivityAt))
      .limit(maxMessages);
    return this.database
      .select({
        messageId: copy.messageId,
        copyId: copy.id,
        repliedAt: copy.repliedAt,
        person: {
          id: person.id,
          name: person.name,
          address: person.address,
          company: person.company,
          phone: person.phone,
        },
        resolvedAt: person.resolvedAt,
      })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .where(
        and(
          sql`${copy.messageId} in ${recentActivity}`,
          gt(copy.lastEventAt, since),
          or(isNull(person.snoozedUntil), sql`${person.snoozedUntil} <= ${now}`),
        ),
      )
      .orderBy(desc(copy.lastEventAt))
      .all();
  }
}
