import { Inject, Injectable } from '@nestjs/common';
import { and, eq, gt } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { copy, event, person } from '../store/schema.js';

@Injectable()
export class OptOutsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** The recipient of the copy that an image's token names. */
  recipientOf(token: string): { copyId: number; personId: number; optedOutAt: number | null } | undefined {
    return this.database
      .select({ copyId: copy.id, personId: copy.personId, optedOutAt: person.optedOutAt })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .where(eq(copy.imageToken, token))
      .get();
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
