import { Inject, Injectable } from '@nestjs/common';
import { and, count, countDistinct, desc, eq, gt, gte, inArray, lt, ne, sql, type SQL } from 'drizzle-orm';
import type { ChartMark, EventKind, EventView, HistoryFilter, Mark, PersonReading } from '@kiraku/core/contract';
import type { Look } from '@kiraku/core/tracking';
import { compile } from '../store/compile.js';
import { DATABASE, type Database } from '../store/database.js';
import { agent, copy, event, incoming, link, message, person, sentFile } from '../store/schema.js';

/** More than anybody’s letter is looked at. */
const MOST_LOOKS = 5000;
/** As many marks as a trail can tell apart. */
const MARKS_PER_MESSAGE = 40;
/** As many as signals and notices look back. */
const COUNTED_PER_MESSAGE = 300;

/** As many as the chart can draw. */
const MARKS_OF_CHART = 2000;
const MARKS_PER_PERSON = 200;
const MOST_DEVICES = 3;
/** What somebody does while they read; the pages of a file are one look with its opening. */
const LOOKS = new Set<EventKind>(['opened', 'clicked', 'file_viewed']);

/** The words of a link, or a file’s name, or what came back. */
const label = sql<string | null>`coalesce(${link.text}, ${sentFile.name}, substr(${incoming.words}, 1, 240))`;
/** Nothing rings of a message, or a person, that was silenced. */
const isTold = sql`${event.rings} and ${message.silencedAt} is null and ${person.silencedAt} is null`.mapWith(Boolean);

@Injectable()
export class EventsRepository {
  private readonly marksOf;
  private readonly countedOf;

  constructor(@Inject(DATABASE) private readonly database: Database) {
    this.marksOf = compile(
      database,
      database
        .select({ eventId: event.id, at: event.at, kind: event.kind, counted: event.counted, label })
        .from(event)
        .leftJoin(link, eq(link.id, event.linkId))
        .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
        .leftJoin(incoming, eq(incoming.id, event.incomingId))
        // The opening of a file is its mark; its pages would crowd out all else.
        .where(and(eq(event.messageId, sql.placeholder('messageId')), ne(event.kind, 'page_viewed')))
        .orderBy(desc(event.at))
        .limit(MARKS_PER_MESSAGE),
    );
    this.countedOf = compile(
      database,
      database
        .select({
          ...{ copyId: event.copyId, eventId: event.id, at: event.at, kind: event.kind, label, page: event.page },
          ...{ ip: event.ip, place: event.place },
          ...{ device: agent.device, system: agent.system, program: agent.program },
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

  /** The newest marks of a message, oldest first. */
  marks(messageId: number): Mark[] {
    return this.marksOf.all({ messageId }).map(markOf).reverse();
  }

  /** Newest first; `before` is the last event of the page before. */
  ofMessages(
    messageIds: number[],
    limit: number,
    { kind, copy: copyId, link: linkId, aside, from, to }: HistoryFilter,
    before?: { at: number; id: number },
  ): EventView[] {
    const conditions = and(
      inArray(event.messageId, messageIds),
      kind === null ? undefined : eq(event.kind, kind),
      copyId === null ? undefined : eq(event.copyId, copyId),
      linkId === null ? undefined : eq(event.linkId, linkId),
      aside ? undefined : eq(event.counted, true),
      from === null ? undefined : gte(event.at, from),
      to === null ? undefined : lt(event.at, to),
      before && sql`(${event.at}, ${event.id}) < (${before.at}, ${before.id})`,
    );
    return this.select(conditions, [desc(event.at), desc(event.id)], limit);
  }

  /** The newest marks of some messages, with who made them on what, oldest first. */
  chart(messageIds: number[]): ChartMark[] {
    return this.database
      .select({
        ...{ eventId: event.id, at: event.at, kind: event.kind, counted: event.counted, label },
        ...{ messageId: event.messageId, copyId: event.copyId },
        ...{ device: agent.device, system: agent.system, program: agent.program },
      })
      .from(event)
      .leftJoin(link, eq(link.id, event.linkId))
      .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
      .leftJoin(incoming, eq(incoming.id, event.incomingId))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(inArray(event.messageId, messageIds))
      .orderBy(desc(event.at))
      .limit(MARKS_OF_CHART)
      .all()
      .reverse();
  }

  /** The counted looks at a message, by copy, as far as they tell who looked; of very many, the newest. */
  looks(messageId: number): Map<number, Look[]> {
    const rows = this.database
      .select({
        ...{ copyId: event.copyId, at: event.at, ip: event.ip, place: event.place },
        ...{ device: agent.device, system: agent.system, program: agent.program },
      })
      .from(event)
      .innerJoin(agent, eq(agent.id, event.agentId))
      .where(and(eq(event.messageId, messageId), eq(event.counted, true), ne(event.kind, 'page_viewed')))
      .orderBy(desc(event.at))
      .limit(MOST_LOOKS)
      .all();
    const looks = new Map<number, Look[]>();
    for (const { copyId, ...look } of rows) looks.set(copyId, [...(looks.get(copyId) ?? []), look]);
    return looks;
  }

  /** The newest counted marks of some messages by their copies, with what they tell of who looked; oldest first. */
  counted(messageIds: number[]): Map<number, (Mark & Look)[]> {
    const byCopy = new Map<number, (Mark & Look)[]>();
    for (const messageId of messageIds)
      for (const row of this.countedOf.all({ messageId }).reverse()) {
        const copyId = row[0] as number;
        const ofCopy = byCopy.get(copyId);
        if (ofCopy) ofCopy.push(lookOf(row));
        else byCopy.set(copyId, [lookOf(row)]);
      }
    return byCopy;
  }

  /** What one person did over all their letters: when and with what they looked, and the newest marks. */
  ofPerson(personId: number): Pick<PersonReading, 'looks' | 'devices' | 'marks'> {
    const rows = this.database
      .select({
        ...{ eventId: event.id, at: event.at, kind: event.kind, counted: event.counted, label },
        ...{ device: agent.device, system: agent.system, program: agent.program },
      })
      .from(copy)
      .innerJoin(event, and(eq(event.messageId, copy.messageId), eq(event.copyId, copy.id)))
      .leftJoin(link, eq(link.id, event.linkId))
      .leftJoin(sentFile, eq(sentFile.id, event.sentFileId))
      .leftJoin(incoming, eq(incoming.id, event.incomingId))
      .leftJoin(agent, eq(agent.id, event.agentId))
      .where(eq(copy.personId, personId))
      .orderBy(desc(event.at))
      .limit(MOST_LOOKS)
      .all();
    const looks = rows.filter(({ counted, kind }) => counted && LOOKS.has(kind));
    return {
      looks: looks.map(({ at }) => at),
      devices: mostUsed(looks),
      marks: rows
        .slice(0, MARKS_PER_PERSON)
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
  tellable(id: number, limit: number): EventView[] {
    const told = and(gt(event.id, id), eq(event.counted, true), isTold);
    return this.select(told, [desc(event.id)], limit).reverse();
  }

  /** Messages that anything has happened to, from an id on. */
  messagesAfter(id: number, limit: number): number[] {
    return this.database
      .selectDistinct({ id: event.messageId })
      .from(event)
      .where(gt(event.messageId, id))
      .orderBy(event.messageId)
      .limit(limit)
      .all()
      .map((row) => row.id);
  }

  countMessages(): number {
    return this.database
      .select({ n: countDistinct(event.messageId) })
      .from(event)
      .get()!.n;
  }

  /** In no order. */
  byIds(ids: number[]): EventView[] {
    return ids.length === 0 ? [] : this.select(inArray(event.id, ids), [event.id], ids.length);
  }

  lastId(): number {
    return this.database.select({ id: event.id }).from(event).orderBy(desc(event.id)).limit(1).get()?.id ?? 0;
  }

  private select(condition: SQL | undefined, order: (SQL | typeof event.id)[], limit: number): EventView[] {
    return this.database
      .select({
        eventId: event.id,
        at: event.at,
        kind: event.kind,
        counted: event.counted,
        reason: event.reason,
        label,
        messageId: event.messageId,
        messageIdHeader: copy.messageIdHeader,
        subject: message.subject,
        copyId: event.copyId,
        recipient: { kind: copy.kind, name: copy.name, address: copy.address },
        linkId: event.linkId,
        linkUrl: link.url,
        ...{ incomingId: event.incomingId, sentFileId: event.sentFileId, page: event.page, readMs: event.readMs },
        ip: event.ip,
        userAgent: agent.userAgent,
        device: agent.device,
        system: agent.system,
        program: agent.program,
        ...{ place: event.place, rings: isTold, byHand: event.byHand, times: event.times },
        ...{ method: event.method, purpose: event.purpose, mine: event.mine, unwilling: event.unwilling },
        ...{ hosted: event.hosted, active: event.active },
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

function markOf([eventId, at, kind, counted, label]: unknown[]): Mark {
  return { eventId, at, kind, counted: counted === 1, label } as Mark;
}

function lookOf([, eventId, at, kind, label, page, ip, place, device, system, program]: unknown[]): Mark & Look {
  return { eventId, at, kind, counted: true, label, page, ip, place, device, system, program } as Mark & Look;
}

type Device = Omit<PersonReading['devices'][number], 'looks'>;

/** With what somebody looks most; what is not known is left out. */
function mostUsed(looks: Device[]): PersonReading['devices'] {
  const devices = new Map<string, PersonReading['devices'][number]>();
  for (const { device, system, program } of looks) {
    if (!device && !system && !program) continue;
    const key = [device, system, program].join();
    devices.set(key, { device, system, program, looks: (devices.get(key)?.looks ?? 0) + 1 });
  }
  return [...devices.values()].sort((a, b) => b.looks - a.looks).slice(0, MOST_DEVICES);
}
