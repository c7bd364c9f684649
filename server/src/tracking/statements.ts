import {
  and,
  asc,
  between,
  eq,
  getTableColumns,
  gt,
  gte,
  inArray,
  isNotNull,
  isNull,
  ne,
  or,
  sql,
  type Placeholder,
  type SQL,
} from 'drizzle-orm';
import type { Tally } from '@kiraku/core/contract';
import { kindsOf } from '@kiraku/core/activity';
import { EMPTY_TALLY } from '@kiraku/core/tracking';
import { compile, type Compiled } from '../store/compile.js';
import type { Database } from '../store/database.js';
import {
  account,
  agent,
  change,
  copy,
  copyFile,
  event,
  fileVersion,
  incoming,
  link,
  message,
  network,
  optOutVisit,
  person,
  reading,
  sentFile,
  setting,
} from '../store/schema.js';

export const TALLY_COLUMNS = Object.keys(EMPTY_TALLY) as (keyof Tally)[];

/** Writes how the counts of a row have moved. */
type MoveTally = (id: number, before: Tally, after: Tally) => void;

export type Statements = Record<keyof ReturnType<typeof queries>, Compiled> & {
  moveCopy: MoveTally;
  moveMessage: MoveTally;
};

/** The key of the setting that hits are judged by. */
export const JUDGING_KEY = 'judging';

/** The statements of all who write events, compiled once. */
export function compileStatements(database: Database): Statements {
  const compiled = Object.entries(queries(database)).map(([name, query]) => [name, compile(database, query)] as const);
  return {
    ...(Object.fromEntries(compiled) as Record<keyof ReturnType<typeof queries>, Compiled>),
    moveCopy: tallyMover(database, copy, () => ({})),
    moveMessage: tallyMover(database, message, (moved) => (moved.has('lastEventAt') ? LATER_ACTIVITY : {})),
  };
}

const LATER_ACTIVITY = { lastActivityAt: sql`max(${message.lastActivityAt}, ${sql.placeholder('lastEventAt')})` };

/**
 * Names only the columns that have moved: SQLite writes every index anew that a named column stands in, and runs every
 * trigger that waits for one.
 *
 * @param besides what else is set where some columns move
 */
function tallyMover(
  database: Database,
  table: typeof copy | typeof message,
  besides: (moved: ReadonlySet<keyof Tally>) => Record<string, SQL>,
): MoveTally {
  const statements = new Map<string, Compiled>();
  const compiled = (columns: (keyof Tally)[]) => {
    const set = Object.fromEntries(columns.map((name) => [name, sql`${sql.placeholder(name)}`]));
    return compile(
      database,
      database
        .update(table)
        .set({ ...set, ...besides(new Set(columns)) })
        .where(eq(table.id, sql.placeholder('id'))),
    );
  };
  return (id, before, after) => {
    const moved = TALLY_COLUMNS.filter((name) => before[name] !== after[name]);
    if (moved.length === 0) return;
    const named = moved.join();
    const statement = statements.get(named) ?? compiled(moved);
    statements.set(named, statement);
    statement.run({ id, ...after });
  };
}

function queries(database: Database) {
  const value = sql.placeholder;
  const values = <Name extends string>(...names: Name[]) =>
    Object.fromEntries(names.map((name) => [name, value(name)])) as Record<string, Placeholder> as Record<
      Name,
      Placeholder
    >;
  const tallyOf = (table: typeof copy | typeof message, prefix: string) => {
    const columns = getTableColumns(table);
    return Object.fromEntries(TALLY_COLUMNS.map((name) => [prefix + name, sql`${columns[name]}`.as(prefix + name)]));
  };
  const setTally = Object.fromEntries(TALLY_COLUMNS.map((name) => [name, sql`${value(name)}`]));
  const isHit = inArray(event.kind, kindsOf('hit'));
  /** In the order in which the event writer reads them. */
  const selectHits = (condition: SQL | undefined) =>
    database
      .select({
        id: event.id,
        at: event.at,
        kind: event.kind,
        copyId: event.copyId,
        linkId: event.linkId,
        sentFileId: event.sentFileId,
        ip: event.ip,
        active: event.active,
        userAgent: agent.userAgent,
        method: event.method,
        purpose: event.purpose,
        ownDevice: event.ownDevice,
        dnt: event.dnt,
        hosted: event.hosted,
        reason: event.reason,
        notifies: event.notifies,
        override: event.override,
        likelihood: event.likelihood,
        evidence: event.evidence,
        networkId: event.networkId,
        lesson: event.lesson,
      })
      .from(event)
      .innerJoin(agent, eq(agent.id, event.agentId))
      .where(and(isHit, condition));
  const ofMessage = eq(event.messageId, value('messageId'));
  return {
    agent: database
      .insert(agent)
      .values(values('userAgent', 'device', 'system', 'program', 'nature'))
      .onConflictDoUpdate({ target: agent.userAgent, set: { userAgent: sql`excluded.user_agent` } })
      .returning({ id: agent.id }),
    settings: database
      .select({ value: sql`${setting.value}`.as('value'), address: account.address })
      .from(account)
      .leftJoin(setting, eq(setting.key, JUDGING_KEY)),
    event: database.insert(event).values({
      ...values('at', 'kind', 'counted', 'reason', 'messageId', 'copyId', 'linkId', 'ip', 'agentId', 'method'),
      ...values('purpose', 'ownDevice', 'dnt', 'hosted', 'place', 'notifies', 'likelihood', 'evidence'),
      ...values('networkId', 'lesson'),
    }),
    plainEvent: database
      .insert(event)
      .values(values('at', 'kind', 'counted', 'reason', 'messageId', 'copyId', 'incomingId')),
    fileEvent: database.insert(event).values({
      ...values('at', 'kind', 'counted', 'reason', 'messageId', 'copyId', 'sentFileId', 'ip', 'agentId', 'method'),
      ...values('purpose', 'ownDevice', 'dnt', 'hosted', 'place', 'notifies', 'readingId', 'visit', 'page', 'readMs'),
      ...values('likelihood', 'evidence', 'networkId', 'lesson'),
    }),
    reading: database
      .insert(reading)
      .values(values('key', 'copyId', 'sentFileId', 'versionId', 'eventId', 'startedAt', 'lastAt', 'givenAddress')),
    readingByKey: database
      .select({ id: reading.id, copyId: reading.copyId })
      .from(reading)
      .where(eq(reading.key, value('key'))),
    verdictOf: database
      .select({ counted: event.counted, reason: event.reason, notifies: event.notifies })
      .from(event)
      .where(eq(event.id, value('id'))),
    readingOf: database
      .select({
        id: reading.id,
        copyId: reading.copyId,
        sentFileId: reading.sentFileId,
        startedAt: reading.startedAt,
        pages: fileVersion.pages,
        eventId: event.id,
        messageId: event.messageId,
        counted: event.counted,
        reason: event.reason,
        notifies: event.notifies,
        active: event.active,
        ip: event.ip,
        agentId: event.agentId,
        place: event.place,
      })
      .from(reading)
      .innerJoin(
        copyFile,
        and(
          eq(copyFile.copyId, reading.copyId),
          eq(copyFile.sentFileId, reading.sentFileId),
          eq(copyFile.token, value('token')),
        ),
      )
      .innerJoin(event, eq(event.id, reading.eventId))
      .innerJoin(fileVersion, eq(fileVersion.id, reading.versionId))
      .where(eq(reading.key, value('key'))),
    /** The opening itself has no visit. */
    visits: database
      .select({ id: event.id, at: event.at, visit: event.visit, page: event.page, readMs: event.readMs })
      .from(event)
      .where(and(eq(event.readingId, value('readingId')), isNotNull(event.visit))),
    readElsewhere: database
      .select({
        ms: sql<number>`sum(max(0, min(${event.at} + ${event.readMs}, ${value('now')}) - max(${event.at}, ${value('from')})))`,
      })
      .from(reading)
      .innerJoin(event, and(eq(event.readingId, reading.id), isNotNull(event.visit)))
      .where(
        and(
          eq(reading.copyId, value('copyId')),
          eq(reading.sentFileId, value('sentFileId')),
          gte(reading.lastAt, value('from')),
          ne(reading.id, value('id')),
          eq(event.ip, value('ip')),
          eq(event.agentId, value('agentId')),
        ),
      ),
    readOn: database
      .update(event)
      .set({ readMs: sql`${value('readMs')}` })
      .where(eq(event.id, value('id'))),
    readingAt: database
      .update(reading)
      .set({ lastAt: sql`max(${reading.lastAt}, ${value('at')})` })
      .where(eq(reading.id, value('id'))),
    acted: database
      .update(event)
      .set({ active: true })
      .where(eq(event.id, value('id'))),
    /** What was read after an opening has its verdict. */
    pagesFollow: database
      .update(event)
      .set({ counted: sql`${value('counted')}`, reason: sql`${value('reason')}` })
      .where(
        and(
          eq(event.kind, 'page_viewed'),
          inArray(
            event.readingId,
            database
              .select({ id: reading.id })
              .from(reading)
              .where(eq(reading.eventId, value('id'))),
          ),
        ),
      ),
    hitsBetween: selectHits(and(ofMessage, between(event.at, value('from'), value('to')))),
    hitsOfMessage: selectHits(ofMessage),
    hit: selectHits(eq(event.id, value('id'))),
    verdict: database
      .update(event)
      .set({
        counted: sql`${value('counted')}`,
        reason: sql`${value('reason')}`,
        notifies: sql`${value('notifies')}`,
        likelihood: sql`${value('likelihood')}`,
        evidence: sql`${value('evidence')}`,
      })
      .where(and(eq(event.id, value('id')), isNull(event.override))),
    correctedAfter: database
      .selectDistinct({ messageId: change.messageId })
      .from(change)
      .where(and(gt(change.id, value('id')), isNotNull(change.eventId))),
    lastChange: database.select({ id: sql<number>`max(${change.id})` }).from(change),
    lesson: database
      .update(event)
      .set({ networkId: sql`${value('networkId')}`, lesson: sql`${value('lesson')}` })
      .where(eq(event.id, value('id'))),
    network: database
      .select({
        id: network.id,
        filter: network.filter,
        people: network.people,
        at: network.at,
        namedAs: network.namedAs,
      })
      .from(network)
      .where(eq(network.prefix, value('prefix'))),
    optOutVisit: database
      .insert(optOutVisit)
      .values(values('copyId', 'network', 'at'))
      .onConflictDoUpdate({ target: [optOutVisit.copyId, optOutVisit.network], set: { at: sql`excluded.at` } }),
    optOutVisitAt: database
      .select({ at: optOutVisit.at })
      .from(optOutVisit)
      .where(and(eq(optOutVisit.copyId, value('copyId')), eq(optOutVisit.network, value('network')))),
    addNetwork: database.insert(network).values(values('prefix', 'at')),
    networkCounts: database
      .update(network)
      .set({ filter: sql`${value('filter')}`, people: sql`${value('people')}`, at: sql`${value('at')}` })
      .where(eq(network.id, value('id'))),
    override: database
      .update(event)
      .set({
        override: sql`${value('override')}`,
        counted: sql`${value('counted')}`,
        reason: sql`${value('reason')}`,
        notifies: false,
      })
      .where(eq(event.id, value('id'))),
    replyOf: database
      .select({ id: event.id, messageId: event.messageId })
      .from(event)
      .innerJoin(incoming, eq(incoming.messageId, event.messageId))
      .where(and(eq(incoming.id, value('incomingId')), eq(event.incomingId, incoming.id), eq(event.kind, 'replied'))),
    flood: database
      .update(event)
      .set({ times: sql`${event.times} + 1`, at: sql`max(${event.at}, ${value('at')})` })
      .where(eq(event.id, value('id'))),
    corrected: database.insert(change).values(values('at', 'messageId', 'eventId')),
    copyFacts: database
      .select({
        messageId: copy.messageId,
        sentAt: copy.sentAt,
        optedOutAt: person.optedOutAt,
        address: copy.address,
        trackForDays: message.trackForDays,
        ...tallyOf(copy, 'copy_'),
        ...tallyOf(message, 'message_'),
      })
      .from(copy)
      .innerJoin(message, eq(message.id, copy.messageId))
      .innerJoin(person, eq(person.id, copy.personId))
      .where(eq(copy.id, value('copyId'))),
    trackForDays: database
      .select({ trackForDays: message.trackForDays })
      .from(message)
      .where(eq(message.id, value('messageId'))),
    copies: database
      .select({ id: copy.id, sentAt: copy.sentAt, address: copy.address })
      .from(copy)
      .where(eq(copy.messageId, value('messageId'))),
    counts: database
      .select({
        kind: event.kind,
        at: event.at,
        counted: event.counted,
        times: event.times,
        copyId: event.copyId,
        linkId: event.linkId,
        sentFileId: event.sentFileId,
        likelihood: event.likelihood,
        override: event.override,
      })
      .from(event)
      .where(eq(event.messageId, value('messageId')))
      .orderBy(asc(event.at)),
    copyTally: database
      .update(copy)
      .set(setTally)
      .where(eq(copy.id, value('id'))),
    messageRecount: database
      .update(message)
      .set({
        ...setTally,
        lastActivityAt: sql`max(coalesce(${value('lastEventAt')}, 0), coalesce(${message.sentAt}, ${message.queuedAt}))`,
      })
      .where(eq(message.id, value('id'))),
    linkClick: database
      .update(link)
      .set({ clicks: sql`${link.clicks} + 1`, lastClickAt: sql`max(coalesce(${link.lastClickAt}, 0), ${value('at')})` })
      .where(eq(link.id, value('id'))),
    linkRecount: database
      .update(link)
      .set({ clicks: sql`${value('clicks')}`, lastClickAt: sql`${value('lastClickAt')}` })
      .where(eq(link.id, value('id'))),
    fileView: database
      .update(sentFile)
      .set({
        views: sql`${sentFile.views} + 1`,
        lastViewAt: sql`max(coalesce(${sentFile.lastViewAt}, 0), ${value('at')})`,
      })
      .where(eq(sentFile.id, value('id'))),
    fileRecount: database
      .update(sentFile)
      .set({ views: sql`${value('views')}`, lastViewAt: sql`${value('lastViewAt')}` })
      .where(eq(sentFile.id, value('id'))),
    filesOfMessage: database
      .select({ id: sentFile.id })
      .from(sentFile)
      .where(eq(sentFile.messageId, value('messageId'))),
    linkCount: database
      .select({ links: sql<number>`count(*)`.as('links') })
      .from(link)
      .where(eq(link.messageId, value('messageId'))),
    linksOfMessage: database
      .select({ id: link.id })
      .from(link)
      .where(eq(link.messageId, value('messageId'))),
    messageOfEvent: database
      .select({ messageId: event.messageId })
      .from(event)
      .where(and(eq(event.id, value('id')), isHit, or(isNull(event.reason), ne(event.reason, 'flood')))),
  };
}
