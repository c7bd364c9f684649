import { Inject, Injectable } from '@nestjs/common';
import { and, eq, gt } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { copy, event, person } from '../store/schema.js';
import { recipientOf } from './optOutRecipients.repository.js';

@Injectable()
export class OptOutsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  recipientOf(token: string) {
    return recipientOf(this.database, token);
  }

  hasOptedOutSince(copyId: number, since: number): boolean {
    return (
      this.database
        .select({ id: event.id })
        .from(copy)
        .innerJoin(event, and(eq(event.messageId, copy.messageId), gt(event.at, since)))
        .where(and(eq(copy.id, copyId), eq(event.copyId, copyId), eq(event.kind, 'opted_out')))
        .limit(1)
        .get() !== undefined
    );
  }

  /** At null, it is undone. */
  optOut(personId: number, at: number | null): void {
    this.database
      .update(person)
      .set({ doNotTrack: at !== null, optedOutAt: at })
      .where(eq(person.id, personId))
      .run();
  }
}
