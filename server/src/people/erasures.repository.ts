import { Inject, Injectable } from '@nestjs/common';
import { eq } from 'drizzle-orm';
import { addressKey } from '@kiraku/core/message';
import { Clock } from '../environment/clock.js';
import { Secrets } from '../settings/secrets.js';
import { DATABASE, type Database } from '../store/database.js';
import { erasure, person } from '../store/schema.js';

/** Somebody who was erased: they are found again by whoever has the key file, and named by nobody. */
export type Erasure = typeof erasure.$inferSelect;

@Injectable()
export class ErasuresRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** Notes that whoever has an address is erased. Call it in the transaction in which they are. */
  note(address: string): void {
    const at = this.clock.now();
    const values = { mark: this.markOf(address), at };
    this.database.insert(erasure).values(values).onConflictDoUpdate({ target: erasure.mark, set: { at } }).run();
  }

  all(): Erasure[] {
    return this.database.select().from(erasure).all();
  }

  /** The numbers of all people who have one of some marks. */
  peopleOf(marks: ReadonlySet<string>): number[] {
    if (marks.size === 0) return [];
    const people = this.database.select({ id: person.id, address: person.address }).from(person).all();
    return people.filter(({ address }) => marks.has(this.markOf(address))).map(({ id }) => id);
  }

  /** Whether somebody with this address was erased. */
  isErased(address: string): boolean {
    const mark = eq(erasure.mark, this.markOf(address));
    return this.database.select({ at: erasure.at }).from(erasure).where(mark).get() !== undefined;
  }

  private markOf(address: string): string {
    return this.secrets.mark(`erased ${addressKey(address)}`);
  }
}
