import { Inject, Injectable } from '@nestjs/common';
import { eq } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { copy, person } from '../store/schema.js';

@Injectable()
export class OptOutsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  transaction<T>(work: () => T): T {
    return this.database.$client.transaction(work).immediate();
  }

  /** The recipient of the copy that an image's token names. */
  recipientOf(token: string): { copyId: number; personId: number; optedOutAt: number | null } | undefined {
    return this.database
      .select({ copyId: copy.id, personId: copy.personId, optedOutAt: person.optedOutAt })
      .from(copy)
      .innerJoin(person, eq(person.id, copy.personId))
      .where(eq(copy.imageToken, token))
      .get();
  }

  /** At null, it is taken back. */
  optOut(personId: number, at: number | null): void {
    this.database
      .update(person)
      .set({ doNotTrack: at !== null, optedOutAt: at })
      .where(eq(person.id, personId))
      .run();
  }
}
