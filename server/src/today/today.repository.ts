import { Inject, Injectable } from '@nestjs/common';
import { and, desc, eq, gt, isNull, or, sql } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { copy, message, person } from '../store/schema.js';

/** A recipient who did something lately, with the message it was done with. */
export interface Busy {
  messageId: number;
  copyId: number;
  answeredAt: number | null;
  person: { id: number; name: string; address: string; firm: string; phone: string };
  dismissedAt: number | null;
}

@Injectable()
export class TodayRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Recipients of messages that something happened to since a time, the latest first; not those who are put off. */
  busy(since: number, now: number, mostMessages: number): Busy[] {
    const lately = this.database
      .select({ id: message.id })
      .from(message)
      .where(
        and(
          isNull(message.shelf),
          gt(message.latestAt, since),
          eq(message.state, 'sent'),
          gt(message.latestAt, message.sentAt),
        ),
      )
      .orderBy(desc(message.latestAt))
      .limit(mostMessages);
    return this.database
      .select({
        ...{ messageId: copy.messageId, copyId: copy.id, answeredAt: copy.answeredAt },
        person: { id: person.id, name: person.name, address: person.address, firm: person.firm, phone: person.phone },
        dismissedAt: person.dismissedAt,
      })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .where(
        and(
          sql`${copy.messageId} in ${lately}`,
          gt(copy.lastEventAt, since),
          or(isNull(person.putOffUntil), sql`${person.putOffUntil} <= ${now}`),
        ),
      )
      .orderBy(desc(copy.lastEventAt))
      .all();
  }
}
