import { Inject, Injectable } from '@nestjs/common';
import { eq, sql } from 'drizzle-orm';
import type { CheckName } from '@kiraku/core/contract';
import type Sqlite from 'better-sqlite3';
import { Clock } from '../environment/clock.js';
import { Changes } from './changes.js';
import { DATABASE, type Database } from './database.js';
import { change, copy } from './schema.js';

/** What belongs together is committed together, and announced once it is durable. */
@Injectable()
export class UnitOfWork {
  private readonly rowsChanged: Sqlite.Statement<[], number>;

  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {
    this.rowsChanged = database.$client.prepare<[], number>('select total_changes()').pluck();
  }

  /**
   * Runs some work in one transaction that takes the write lock at once (SQLite, BEGIN IMMEDIATE), and announces it after
   * the commit if a row was written. Within the work of another call it is a part of that one's transaction.
   *
   * @param work reads and writes by any repository, and notes what changed; synchronous, since others wait for the lock
   * @returns what the work returns
   * @throws what the work throws; nothing of it is written then
   */
  commit<T>(work: () => T): T {
    const { $client: client } = this.database;
    const isPart = client.inTransaction;
    const before = this.rowsChanged.get();
    const outcome = this.commitUnseen(work);
    if (!isPart && this.rowsChanged.get() !== before) this.changes.announce();
    return outcome;
  }

  /** The same for what nobody is shown, as an index of what is known already: nothing is announced. */
  commitUnseen<T>(work: () => T): T {
    return this.database.transaction(() => work(), { behavior: 'immediate' });
  }

  /**
   * Notes that a message has changed, that a reminder is due, that a check fails, or the list of drafts.
   *
   * @throws outside of `commit`: nobody would be notified
   */
  note(what: { messageId: number } | { reminderId: number } | { checkName: CheckName } | 'drafts'): void {
    this.checkIsPart();
    this.database
      .insert(change)
      .values({ at: this.clock.now(), ...(what === 'drafts' ? {} : what) })
      .run();
  }

  /** Notes that all messages to some people have changed: what names them is found, and shown, by another name. */
  noteMessagesTo(personIds: number[]): void {
    this.checkIsPart();
    for (const personId of personIds)
      this.database
        .insert(change)
        .select(
          this.database
            .selectDistinct({
              id: sql`null`.as('id'),
              at: sql`${this.clock.now()}`.as('at'),
              messageId: copy.messageId,
              eventId: sql`null`.as('event_id'),
              reminderId: sql`null`.as('reminder_id'),
              checkName: sql`null`.as('check_name'),
            })
            .from(copy)
            .where(eq(copy.personId, personId)),
        )
        .run();
  }

  private checkIsPart(): void {
    if (!this.database.$client.inTransaction) throw new Error('A change is noted within a unit of work');
  }
}
