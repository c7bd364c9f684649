import { Inject, Injectable } from '@nestjs/common';
import type Sqlite from 'better-sqlite3';
import { Changes } from './changes.js';
import { DATABASE, type Database } from './database.js';

/** What belongs together is committed together, and announced once it is durable. */
@Injectable()
export class UnitOfWork {
  private readonly rowsChanged: Sqlite.Statement<[], number>;

  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly changes: Changes,
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
    const outcome = this.database.transaction(() => work(), { behavior: 'immediate' });
    if (!isPart && this.rowsChanged.get() !== before) this.changes.announce();
    return outcome;
  }
}
