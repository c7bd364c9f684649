import { Inject, Injectable } from '@nestjs/common';
import { and, asc, inArray, isNotNull, lt, notExists, eq, sql } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { agent, event, incoming, message, optOutVisit, reading, refusedMail } from '../store/schema.js';

const FORGOTTEN = {
  ...{ ip: null, agentId: null, place: null, purpose: null, networkId: null, lesson: null },
  ...{ ownDevice: false, dnt: false, hosted: false },
};

@Injectable()
export class RetentionRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Forgets who opened or clicked, in the oldest events before a time that still tell. Returns how many there were. */
  forgetReaders(before: number, limit: number): number {
    const ids = this.oldest(and(lt(event.at, before), isNotNull(event.agentId)), limit).map(({ id }) => id);
    if (ids.length === 0) return 0;
    this.database.update(event).set(FORGOTTEN).where(inArray(event.id, ids)).run();
    this.database.update(reading).set({ givenAddress: null }).where(inArray(reading.eventId, ids)).run();
    return ids.length;
  }

  /** Forgets the oldest events before a time. Returns the messages that they happened to. */
  forgetEvents(before: number, limit: number, now: number): number[] {
    const found = this.oldest(lt(event.at, before), limit);
    if (found.length === 0) return [];
    const messageIds = [...new Set(found.map(({ messageId }) => messageId))];
    const ids = found.map(({ id }) => id);
    this.database.delete(event).where(inArray(event.id, ids)).run();
    this.database.delete(reading).where(inArray(reading.eventId, ids)).run();
    // What somebody wrote back happened, too.
    this.database.delete(incoming).where(lt(incoming.at, before)).run();
    this.database.delete(refusedMail).where(lt(refusedMail.at, before)).run();
    this.database.update(message).set({ forgottenAt: now }).where(inArray(message.id, messageIds)).run();
    return messageIds;
  }

  /** Forgets which data centres asked for the page to opt out before a time. */
  forgetOptOutVisits(before: number): void {
    this.database.delete(optOutVisit).where(lt(optOutVisit.at, before)).run();
  }

  /** Programs that no event tells of any more. */
  forgetPrograms(): void {
    const used = this.database
      .select({ one: sql`1` })
      .from(event)
      .where(eq(event.agentId, agent.id));
    this.database.delete(agent).where(notExists(used)).run();
  }

  private oldest(condition: ReturnType<typeof and>, limit: number): { id: number; messageId: number }[] {
    return this.database
      .select({ id: event.id, messageId: event.messageId })
      .from(event)
      .where(condition)
      .orderBy(asc(event.at))
      .limit(limit)
      .all();
  }
}
