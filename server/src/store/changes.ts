import { Inject, Injectable } from '@nestjs/common';
import { and, asc, desc, gt, isNotNull, isNull, lt, sql } from 'drizzle-orm';
import { Subject } from 'rxjs';
import type { CheckName } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { DATABASE, type Database } from './database.js';
import type { LiveCursor } from './liveCursor.js';
import { change, event } from './schema.js';

/** Something besides an event: a message that changed, the list of drafts (null), or the verdict on an event. */
export interface Change {
  id: number;
  messageId: number | null;
  eventId: number | null;
  /** The reminder whose time has come. */
  reminderId: number | null;
  /** The check that has found that something does not work. */
  checkName: CheckName | null;
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

  /** The unit of work does so after each commit; for what is not kept in the database, call it yourself. */
  announce(): void {
    this.announcements.next();
  }

  /** In the order in which they were committed. */
  after(id: number, limit: number): Change[] {
    const { messageId, eventId, reminderId, checkName } = change;
    return this.database
      .select({ id: change.id, messageId, eventId, reminderId, checkName })
      .from(change)
      .where(gt(change.id, id))
      .orderBy(asc(change.id))
      .limit(limit)
      .all();
  }

  /** Those of messages themselves, not of what happened to them, in the order in which they were committed. */
  ofMessagesAfter(id: number, limit: number): { id: number; messageId: number }[] {
    return this.database
      .select({ id: change.id, messageId: sql<number>`${change.messageId}` })
      .from(change)
      .where(and(gt(change.id, id), isNotNull(change.messageId), isNull(change.eventId)))
      .orderBy(asc(change.id))
      .limit(limit)
      .all();
  }

  lastId(): number {
    return this.database.select({ id: change.id }).from(change).orderBy(desc(change.id)).limit(1).get()?.id ?? 0;
  }

  /** Where the live stream goes on for whoever reads after this. */
  end(): LiveCursor {
    return { eventId: this.lastEventId(), changeId: this.lastId() };
  }

  lastEventId(): number {
    return this.database.select({ id: event.id }).from(event).orderBy(desc(event.id)).limit(1).get()?.id ?? 0;
  }

  prune(): void {
    this.database
      .delete(change)
      .where(lt(change.at, this.clock.now() - CHANGE_LOG_MS))
      .run();
  }
}
