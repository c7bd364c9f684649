import { plausibleVisits } from '@kiraku/core/files';
import type { Visit } from '@kiraku/core/contract';
import { verdictOfPages } from '@kiraku/core/tracking';
import type { PublicHit, PublicReport } from './arrival.js';
import type { Counts } from './counts.js';
import type { Statements } from './statements.js';
import type { StoredHit, StoredHits } from './storedHits.js';
import type { Verdicts } from './verdicts.js';

/** A reading as it stands, with the verdict of its opening, which holds for all of it. */
interface CopyFacts {
  id: number;
  copyId: number;
  sentFileId: number;
  startedAt: number;
  pages: number | null;
  eventId: number;
  messageId: number;
  counted: boolean;
  reason: string | null;
  notifies: boolean;
  active: boolean;
  ip: string | null;
  agentId: number;
  place: string | null;
}

/** Writes down which pages were read for how long, within the caller’s transaction. */
export class ReadingWriter {
  constructor(
    private readonly statements: Statements,
    private readonly stored: StoredHits,
    private readonly verdicts: Verdicts,
  ) {}

  /** Begins the reading that an opening asks for. */
  begin({ id, at, kind, copyId, sentFileId }: StoredHit, { reading, method }: PublicHit): void {
    if (kind !== 'file_viewed' || method !== 'GET' || !reading || !('versionId' in reading)) return;
    this.statements.reading.run({ ...reading, copyId, sentFileId, eventId: id, startedAt: at, lastAt: at });
  }

  /** The number of the reading that something belongs to; null where it is none of this copy. */
  idOf(reading: PublicHit['reading'], copyId: number): number | null {
    if (!reading || 'versionId' in reading) return null;
    const [id, ofCopy] = (this.statements.readingByKey.first({ key: reading.key }) ?? []) as [number?, number?];
    return ofCopy === copyId ? id! : null;
  }

  /** Returns whether there is such a reading. */
  write(counts: Counts, { token, reading: key, at, active, visits }: PublicReport): boolean {
    const reading = this.copyFacts(token, key);
    if (!reading) return false;
    // Who declines while they read is not written down any more.
    if (counts.copyFacts(reading.copyId)?.declined !== false) return true;
    if (active && !reading.active) this.act(counts, reading, at);
    const known = this.visitsOf(reading.id);
    const openMs = at - reading.startedAt - this.readElsewhere(reading, at);
    const more = plausibleVisits(visits, [...known.values()], openMs, reading.pages);
    const turned = more.filter(({ visit }) => !known.has(visit));
    const earliest = Math.max(reading.startedAt, ...[...known.values()].map((visit) => visit.at));
    beginnings(turned, earliest, at).forEach((began, index) => this.turn(counts, reading, turned[index]!, began));
    for (const visit of more) {
      const before = known.get(visit.visit);
      if (before) this.goOn(reading, before.eventId, visit, at);
    }
    this.statements.readingAt.run({ id: reading.id, at });
    return true;
  }

  /** Somebody is there: what was only guessed of the opening is dropped. */
  private act(counts: Counts, reading: CopyFacts, at: number): void {
    this.statements.acted.run({ id: reading.eventId });
    this.stored.forgetMessage(reading.messageId);
    if (this.verdicts.judgeWhole(reading.messageId, at) === 0) return;
    counts.recount(reading.messageId);
    Object.assign(reading, this.verdictOf(reading.eventId));
  }

  private turn(counts: Counts, reading: CopyFacts, { visit, page, ms }: Visit, began: number): void {
    const { messageId, copyId, sentFileId, ip, agentId, place, notifies } = reading;
    const set = verdictOfPages(reading);
    this.statements.fileEvent.run({
      at: began,
      kind: 'page_viewed',
      counted: Number(set.counted),
      reason: set.reason,
      messageId,
      copyId,
      sentFileId,
      ip,
      agentId,
      place,
      notifies: Number(notifies),
      readingId: reading.id,
      visit,
      page,
      readMs: ms,
      method: null,
      purpose: null,
      ownDevice: 0,
      dnt: 0,
      hosted: 0,
      likelihood: null,
      evidence: null,
      networkId: null,
      lesson: null,
    });
    counts.add(copyId, { kind: 'page_viewed', at: began, counted: set.counted, linkId: null, sentFileId });
  }

  /** A page that is still being read. */
  private goOn({ messageId }: CopyFacts, eventId: number, { ms }: Visit, at: number): void {
    this.statements.readOn.run({ id: eventId, readMs: ms });
    this.statements.corrected.run({ at, messageId, eventId });
  }

  /** For how long the same reader read the same file in other windows, since this one was opened: nobody reads in two at once. */
  private readElsewhere({ id, copyId, sentFileId, startedAt: from, ip, agentId }: CopyFacts, now: number): number {
    if (ip === null) return 0;
    return (this.statements.readElsewhere.first({ id, copyId, sentFileId, from, now, ip, agentId })?.[0] ??
      0) as number;
  }

  private visitsOf(readingId: number): Map<number, Visit & { eventId: number; at: number }> {
    const rows = this.statements.visits.all({ readingId }) as [number, number, number, number, number][];
    return new Map(rows.map(([eventId, at, visit, page, ms]) => [visit, { eventId, at, visit, page, ms }]));
  }

  private copyFacts(token: string, key: string): CopyFacts | undefined {
    const row = this.statements.readingOf.first({ token, key });
    if (!row) return undefined;
    const [id, copyId, sentFileId, startedAt, pages, eventId, messageId, ...verdict] = row as [
      ...[number, number, number, number, number | null, number, number],
      ...[number, string | null, number, number, string | null, number, string | null],
    ];
    const [counted, reason, notifies, active, ip, agentId, place] = verdict;
    return {
      id,
      copyId,
      sentFileId,
      startedAt,
      pages,
      eventId,
      messageId,
      reason,
      ip,
      agentId,
      place,
      counted: counted === 1,
      notifies: notifies === 1,
      active: active === 1,
    };
  }

  private verdictOf(eventId: number): Pick<CopyFacts, 'counted' | 'reason' | 'notifies'> {
    const [counted, reason, notifies] = this.statements.verdictOf.first({ id: eventId }) as [
      number,
      string | null,
      number,
    ];
    return { counted: counted === 1, reason, notifies: notifies === 1 };
  }
}

/** When each of some visits began, the last of which goes on: one after the other, as far as there was time. */
function beginnings(visits: readonly Visit[], earliest: number, now: number): number[] {
  let end = now;
  return visits
    .toReversed()
    .map(({ ms }) => (end = Math.max(earliest, end - ms)))
    .reverse();
}
