import { Inject, Injectable } from '@nestjs/common';
import { and, count, desc, eq, gt, gte, inArray, lt, max, notInArray, sql, type SQL } from 'drizzle-orm';
import { isOf } from '@kiraku/core/activity';
import {
  EVENT_KINDS,
  type ChartEvent,
  type EventView,
  type HistoryFilter,
  type PersonReading,
  type TrailEvent,
} from '@kiraku/core/contract';
import type { ReaderHit } from '@kiraku/core/tracking';
import { compile } from '../store/compile.js';
import type { Place } from '../http/paging.js';
import { DATABASE, type Database } from '../store/database.js';
import { agent, copy, event, incoming, link, message, person, sentFile } from '../store/schema.js';

/** More than anybody’s message is looked at. */
const MAX_ACTIVITY_EVENTS = 5000;
/** As many events as a trail can tell apart. */
const MAX_TRAIL_EVENTS = 40;
/** As many as signals and notifications look back. */
const COUNTED_PER_MESSAGE = 300;

/** As many as the chart can draw. */
const MAX_CHART_EVENTS = 2000;
const MAX_TRAIL_EVENTS_OF_PERSON = 200;
const MAX_USUAL_DEVICES = 3;
const isOnTrail = notInArray(
  event.kind,
  EVENT_KINDS.filter((kind) => !isOf('trail', kind)),
);

/** The words of a link, or a file’s name, or what came back. */
const label = sql<string | null>`coalesce(${link.text}, ${sentFile.name}, substr(${incoming.words}, 1, 240))`;
/** Nothing notifies of a message, or a person, that was muted. */
const isNotified = sql`${event.notifies} and ${message.mutedAt} is null and ${person.mutedAt} is null`.mapWith(Boolean);

@Injectable()
export class EventsRepository {
  private readonly trailEventsOf;
  private readonly countedOf;

  constructor(@Inject(DATABASE) private readonly database: Database) {
    this.trailEventsOf = compile(
      database,
      database
        .select({ eventId: event.id, at: event.at, kind: event.kind, counted: event.counted, label })
        .from(event)
        .leftJoin(link, eq(link.id, event.linkId))
        .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
        .leftJoin(incoming, eq(incoming.id, event.incomingId))
        // The opening of a file is its mark; its pages would push out all else.
        .where(and(eq(event.messageId, sql.placeholder('messageId')), isOnTrail))
        .orderBy(desc(event.at))
        .limit(MAX_TRAIL_EVENTS),
    );
    this.countedOf = compile(
      database,
      database
        .select({
          copyId: event.copyId,
          eventId: event.id,
          at: event.at,
          kind: event.kind,
          label,
          page: event.page,
          ip: event.ip,
          place: event.place,
          device: agent.device,
          system: agent.system,
          program: agent.program,
        })
        .from(event)
        .leftJoin(link, eq(link.id, event.linkId))
        .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
        .leftJoin(incoming, eq(incoming.id, event.incomingId))
        .leftJoin(agent, eq(agent.id, event.agentId))
        .where(and(eq(event.messageId, sql.placeholder('messageId')), eq(event.counted, true)))
        .orderBy(desc(event.at), desc(event.id))
        .limit(COUNTED_PER_MESSAGE),
    );
  }

  /** The newest events of a message, oldest first. */
  trailEvents(messageId: number): TrailEvent[] {
    return this.trailEventsOf.all({ messageId }).map(trailEventOf).reverse();
  }

  /** Newest first; `before` is the last event of the page before. */
  ofMessages(
    messageIds: number[],
    limit: number,
    { kind, copy: copyId, link: linkId, notCounted, from, to }: HistoryFilter,
    before: Place | null = null,
  ): EventView[] {
    const conditions = and(
      inArray(event.messageId, messageIds),
      kind === null ? undefined : eq(event.kind, kind),
      copyId === null ? undefined : eq(event.copyId, copyId),
      linkId === null ? undefined : eq(event.linkId, linkId),
      notCounted ? undefined : eq(event.counted, true),
      from === null ? undefined : gte(event.at, from),
      to === null ? undefined : lt(event.at, to),
      before ? sql`(${event.at}, ${event.id}) < (${before.value}, ${before.id})` : undefined,
    );
    return this.select(conditions, [desc(event.at), desc(event.id)], limit);
  }

  /** The newest events of some messages, with who made them on what, oldest first. */
  chart(messageIds: number[]): ChartEvent[] {
    return this.database
      .select({
        eventId: event.id,
        at: event.at,
        kind: event.kind,
        counted: event.counted,
        label,
        messageId: event.messageId,
        copyId: event.copyId,
        device: agent.device,
        system: agent.system,
        program: agent.program,
      })
      .from(event)
      .leftJoin(link, eq(link.id, event.linkId))
      .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
      .leftJoin(incoming, eq(incoming.id, event.incomingId))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(inArray(event.messageId, messageIds))
      .orderBy(desc(event.at))
      .limit(MAX_CHART_EVENTS)
      .all()
      .reverse();
  }

  /** The counted events of a message, by copy, as far as they tell who made them; of very many, the newest. */
  hits(messageId: number): Map<number, ReaderHit[]> {
    const rows = this.database
      .select({
        copyId: event.copyId,
        at: event.at,
        ip: event.ip,
        place: event.place,
        device: agent.device,
        system: agent.system,
        program: agent.program,
      })
      .from(event)
      .innerJoin(agent, eq(agent.id, event.agentId))
      .where(and(eq(event.messageId, messageId), eq(event.counted, true), isOnTrail))
      .orderBy(desc(event.at))
      .limit(MAX_ACTIVITY_EVENTS)
      .all();
    const hits = new Map<number, ReaderHit[]>();
    for (const { copyId, ...hit } of rows) hits.set(copyId, [...(hits.get(copyId) ?? []), hit]);
    return hits;
  }

  /** The newest counted events of some messages by their copies, with what they tell of who made them; oldest first. */
  counted(messageIds: number[]): Map<number, (TrailEvent & ReaderHit)[]> {
    const byCopy = new Map<number, (TrailEvent & ReaderHit)[]>();
    for (const messageId of messageIds)
      for (const row of this.countedOf.all({ messageId }).reverse()) {
        const copyId = row[0] as number;
        const ofCopy = byCopy.get(copyId);
        if (ofCopy) ofCopy.push(readerHitOf(row));
        else byCopy.set(copyId, [readerHitOf(row)]);
      }
    return byCopy;
  }

  /** What one person did over all their messages: when and on which devices they opened, and the newest events. */
  ofPerson(personId: number): Pick<PersonReading, 'readTimes' | 'devices' | 'trailEvents'> {
    const rows = this.database
      .select({
        eventId: event.id,
        at: event.at,
        kind: event.kind,
        counted: event.counted,
        label,
        device: agent.device,
        system: agent.system,
        program: agent.program,
      })
      .from(copy)
      .innerJoin(event, and(eq(event.messageId, copy.messageId), eq(event.copyId, copy.id)))
      .leftJoin(link, eq(link.id, event.linkId))
      .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
      .leftJoin(incoming, eq(incoming.id, event.incomingId))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(eq(copy.personId, personId))
      .orderBy(desc(event.at))
      .limit(MAX_ACTIVITY_EVENTS)
      .all();
    const hits = rows.filter(({ counted, kind }) => counted && isOf('hours', kind));
    return {
      readTimes: hits.map(({ at }) => at),
      devices: mostUsed(hits),
      trailEvents: rows
        .slice(0, MAX_TRAIL_EVENTS_OF_PERSON)
        .map(({ eventId, at, kind, counted, label }) => ({ eventId, at, kind, counted, label }))
        .reverse(),
    };
  }

  /** What happened with all copies of somebody. */
  countOfPerson(personId: number): number {
    return this.database
      .select({ n: count() })
      .from(copy)
      .innerJoin(event, and(eq(event.messageId, copy.messageId), eq(event.copyId, copy.id)))
      .where(eq(copy.personId, personId))
      .get()!.n;
  }

  countOfMessage(messageId: number): number {
    return this.database.select({ n: count() }).from(event).where(eq(event.messageId, messageId)).get()!.n;
  }

  /** Newest first, from a time on. */
  since(at: number, limit: number): EventView[] {
    return this.select(gte(event.at, at), [desc(event.at)], limit);
  }

  countSince(at: number): number {
    return this.database.select({ n: count() }).from(event).where(gte(event.at, at)).get()!.n;
  }

  /** In the order in which they were committed. */
  after(id: number, limit: number): EventView[] {
    return this.select(gt(event.id, id), [event.id], limit);
  }

  /** Of those that are to be told after an id, the newest, in the order in which they were committed. */
  notifiable(id: number, limit: number): EventView[] {
    const notified = and(gt(event.id, id), eq(event.counted, true), isNotified);
    return this.select(notified, [desc(event.id)], limit).reverse();
  }

  /** In no order. */
  byIds(ids: number[]): EventView[] {
    return ids.length === 0 ? [] : this.select(inArray(event.id, ids), [event.id], ids.length);
  }

  /** When the latest happened, in epoch milliseconds; null where nothing has. */
  lastAt(): number | null {
    return (
      this.database
        .select({ at: max(event.at) })
        .from(event)
        .get()?.at ?? null
    );
  }

  private select(condition: SQL | undefined, order: (SQL | typeof event.id)[], limit: number): EventView[] {
    return this.database
      .select({
        eventId: event.id,
        at: event.at,
        kind: event.kind,
        counted: event.counted,
        reason: event.reason,
        likelihood: event.likelihood,
        evidence: event.evidence,
        label,
        messageId: event.messageId,
        messageIdHeader: copy.messageIdHeader,
        subject: message.subject,
        copyId: event.copyId,
        recipient: { kind: copy.kind, name: copy.name, address: copy.address },
        linkId: event.linkId,
        linkUrl: link.url,
        incomingId: event.incomingId,
        sentFileId: event.sentFileId,
        page: event.page,
        readMs: event.readMs,
        ip: event.ip,
        userAgent: agent.userAgent,
        device: agent.device,
        system: agent.system,
        program: agent.program,
        place: event.place,
        notifies: isNotified,
        override: event.override,
        times: event.times,
        method: event.method,
        purpose: event.purpose,
        ownDevice: event.ownDevice,
        dnt: event.dnt,
        hosted: event.hosted,
        active: event.active,
      })
      .from(event)
      .innerJoin(copy, eq(copy.id, event.copyId))
      .innerJoin(message, eq(message.id, event.messageId))
      .innerJoin(person, eq(person.id, copy.personId))
      .leftJoin(link, eq(link.id, event.linkId))
      .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
      .leftJoin(incoming, eq(incoming.id, event.incomingId))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(condition)
      .orderBy(...order)
      .limit(limit)
      .all();
  }
}

function trailEventOf([eventId, at, kind, counted, label]: unknown[]): TrailEvent {
  return { eventId, at, kind, counted: counted === 1, label } as TrailEvent;
}

function readerHitOf([, eventId, at, kind, label, page, ip, place, device, system, program]: unknown[]): TrailEvent &
  ReaderHit {
  return { eventId, at, kind, counted: true, label, page, ip, place, device, system, program } as TrailEvent &
    ReaderHit;
}

type Device = Omit<PersonReading['devices'][number], 'opens'>;

/** The devices that somebody opens most on; what is not known is left out. */
function mostUsed(hits: Device[]): PersonReading['devices'] {
  const devices = new Map<string, PersonReading['devices'][number]>();
  for (const { device, system, program } of hits) {
    if (!device && !system && !program) continue;
    const key = [device, system, program].join();
    devices.set(key, { device, system, program, opens: (devices.get(key)?.opens ?? 0) + 1 });
  }
  return [...devices.values()].sort((a, b) => b.opens - a.opens).slice(0, MAX_USUAL_DEVICES);
}
