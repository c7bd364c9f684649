import { Inject, Injectable } from '@nestjs/common';
import { asc, desc, eq, gt, lt, sql } from 'drizzle-orm';
import { Subject } from 'rxjs';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { DATABASE, type Database } from './database.js';
import { change, copy } from './schema.js';

/** Something besides an event: a message that changed, the list of drafts (null), or the verdict on an event. */
export interface Change {
  id: number;
  messageId: number | null;
  eventId: number | null;
  /** The reminder whose time has come. */
  reminderId: number | null;
}

const CHANGE_LOG_MS = 7 * DAY;

/** Tells the live stream that something was committed, and keeps what changed besides events for those who were away. */
@Injectable()
export class Changes {
  private readonly announcements = new Subject<void>();
  /** Fires after commits; look into the database for what is new. */
  readonly announced = this.announcements.asObservable();

  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly clock: Clock,
  ) {}

  /**
   * Notes that a message has changed, that a reminder is due, or the list of drafts.
   *
   * @throws outside the unit of work that changes them: nobody would be notified
   */
  note(what: { messageId: number } | { reminderId: number } | 'drafts'): void {
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
            })
            .from(copy)
            .where(eq(copy.personId, personId)),
        )
        .run();
  }

  /** The unit of work does so after each commit; for what is not kept in the database, call it yourself. */
  announce(): void {
    this.announcements.next();
  }

  /** In the order in which they were committed. */
  after(id: number, limit: number): Change[] {
    return this.database
      .select({ id: change.id, messageId: change.messageId, eventId: change.eventId, reminderId: change.reminderId })
      .from(change)
      .where(gt(change.id, id))
      .orderBy(asc(change.id))
      .limit(limit)
      .all();
  }

  lastId(): number {
    return this.database.select({ id: change.id }).from(change).orderBy(desc(change.id)).limit(1).get()?.id ?? 0;
  }

  prune(): void {
    this.database
      .delete(change)
      .where(lt(change.at, this.clock.now() - CHANGE_LOG_MS))
      .run();
  }

  private checkIsPart(): void {
    if (!this.database.$client.inTransaction) throw new Error('A change is noted within a unit of work');
  }
}
