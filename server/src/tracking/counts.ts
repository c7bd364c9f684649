import type { EventKind, Tally } from '@kiraku/core/contract';
import { addToTally, EMPTY_TALLY, isUncertain } from '@kiraku/core/tracking';
import { TALLY_COLUMNS, type Statements } from './statements.js';

/** A copy as it stands before the next event. */
export interface CopyFacts {
  messageId: number;
  sentAt: number | null;
  address: string;
  /** What was said of its message alone; null for what holds for all. */
  trackForDays: number | null;
  /** Its recipient has declined to be tracked: what they do is not recorded. */
  declined: boolean;
  tally: Tally;
}

interface Counted {
  kind: EventKind;
  at: number;
  counted: boolean;
  uncertain?: boolean;
  linkId: number | null;
  sentFileId: number | null;
  times?: number;
}

/**
 * The counts that the events of one transaction move: each row is read once and written once. They grow with each event,
 * save where a verdict was revised: then what the message’s events say is counted from the start.
 */
export class Counts {
  private readonly copies = new Map<number, CopyFacts & { before: Tally }>();
  private readonly messages = new Map<number, { before: Tally; tally: Tally }>();
  private readonly recounted = new Set<number>();

  constructor(private readonly statements: Statements) {}

  /** Undefined for a copy that was deleted meanwhile. */
  copyFacts(copyId: number): CopyFacts | undefined {
    return this.copies.get(copyId) ?? this.load(copyId);
  }

  add(copyId: number, event: Counted): void {
    const copyFacts = this.copyFacts(copyId);
    if (!copyFacts) return;
    const sum = this.messages.get(copyFacts.messageId)!;
    copyFacts.tally = addToTally(copyFacts.tally, event);
    sum.tally = addToTally(sum.tally, event);
    if (!event.counted) return;
    if (event.linkId !== null) this.statements.linkClick.run({ id: event.linkId, at: event.at });
    if (event.kind === 'file_viewed') this.statements.fileView.run({ id: event.sentFileId, at: event.at });
  }

  /** Counts a message from the start, once its last event of this transaction is written. */
  recount(messageId: number): void {
    this.recounted.add(messageId);
  }

  write(): void {
    for (const [id, { messageId, before, tally }] of this.copies)
      if (!this.recounted.has(messageId)) this.statements.moveCopy(id, before, tally);
    for (const [id, { before, tally }] of this.messages)
      if (!this.recounted.has(id)) this.statements.moveMessage(id, before, tally);
    for (const messageId of this.recounted) this.writeRecount(messageId);
  }

  private writeRecount(messageId: number): void {
    const sum = new TallyMap();
    const byCopy = new TallyMap();
    const byLink = new TallyMap();
    const byFile = new TallyMap();
    for (const row of this.statements.counts.all({ messageId })) {
      const [kind, at, counted, times, copyId, linkId, sentFileId, likelihood, override] = row;
      const event = {
        kind: kind as EventKind,
        at: at as number,
        counted: counted === 1,
        uncertain: isUncertain({ likelihood: likelihood as number | null, override: override === null ? null : true }),
        times: times as number,
      };
      sum.add(messageId, event);
      byCopy.add(copyId as number, event);
      if (linkId !== null) byLink.add(linkId as number, event);
      if (kind === 'file_viewed') byFile.add(sentFileId as number, event);
    }
    this.statements.messageRecount.run({ id: messageId, ...sum.of(messageId) });
    for (const [id] of this.statements.copies.all({ messageId }) as [number][])
      this.statements.copyTally.run({ id, ...byCopy.of(id) });
    for (const [id] of this.statements.linksOfMessage.all({ messageId }) as [number][]) {
      const { clicks, lastClickAt } = byLink.of(id);
      this.statements.linkRecount.run({ id, clicks, lastClickAt });
    }
    for (const [id] of this.statements.filesOfMessage.all({ messageId }) as [number][]) {
      const { fileViews, lastEventAt } = byFile.of(id);
      this.statements.fileRecount.run({ id, views: fileViews, lastViewAt: lastEventAt });
    }
  }

  private load(copyId: number): CopyFacts | undefined {
    const row = this.statements.copyFacts.first({ copyId });
    if (!row) return undefined;
    const [messageId, sentAt, optedOutAt, address, trackForDays, ...counts] = row as [
      number,
      number | null,
      number | null,
      string,
      number | null,
    ];
    const tally = tallyFrom(counts, 0);
    const copyFacts = { messageId, sentAt, address, trackForDays, declined: optedOutAt !== null, tally, before: tally };
    this.copies.set(copyId, copyFacts);
    if (!this.messages.has(messageId)) {
      const before = tallyFrom(counts, TALLY_COLUMNS.length);
      this.messages.set(messageId, { before, tally: before });
    }
    return copyFacts;
  }
}

class TallyMap {
  private readonly tallies = new Map<number, Tally>();

  add(id: number, event: Parameters<typeof addToTally>[1]): void {
    this.tallies.set(id, addToTally(this.of(id), event));
  }

  of(id: number): Tally {
    return this.tallies.get(id) ?? EMPTY_TALLY;
  }
}

function tallyFrom(counts: number[], offset: number): Tally {
  const tally: Tally = { ...EMPTY_TALLY };
  for (let i = 0; i < TALLY_COLUMNS.length; i += 1) tally[TALLY_COLUMNS[i]!] = counts[offset + i]!;
  return tally;
}
