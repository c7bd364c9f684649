import type { EventKind } from '@kiraku/core/contract';
import { lessonOfOverride, OVERRIDDEN } from '@kiraku/core/tracking';
import type { Database } from '../store/database.js';
import { Agents } from './agents.js';
import { ChoicesReader } from './choices.js';
import { Counts } from './counts.js';
import { NetworkMemory } from './networkMemory.js';
import { compileStatements, type Statements } from './statements.js';
import { StoredHits } from './storedHits.js';
import { Verdicts } from './verdicts.js';

/** An event that is known for what it is, and needs no judging: a refusal, a reply. */
export interface PlainEvent {
  kind: EventKind;
  at: number;
  copyId: number;
  /** The mail that said so. */
  incomingId?: number;
  /** Why it does not count; it does where nothing is said. */
  reason?: string;
}

/** Writes events other than hits, and revises the verdicts of hits, within the caller’s transaction. */
export class EventWriter {
  private readonly statements: Statements;
  private readonly hits: StoredHits;
  private readonly memory: NetworkMemory;
  private readonly verdicts: Verdicts;

  constructor(database: Database) {
    this.statements = compileStatements(database);
    this.hits = new StoredHits(this.statements, new Agents(this.statements));
    this.memory = new NetworkMemory(this.statements);
    const choices = new ChoicesReader(this.statements);
    this.verdicts = new Verdicts(this.statements, this.hits, choices, this.memory);
  }

  write({ copyId, kind, at, incomingId, reason }: PlainEvent): void {
    const counts = new Counts(this.statements);
    const copyFacts = counts.copyFacts(copyId);
    if (!copyFacts) return;
    const { messageId } = copyFacts;
    const counted = reason === undefined;
    this.statements.plainEvent.run({
      at,
      kind,
      counted: Number(counted),
      messageId,
      copyId,
      reason: reason ?? null,
      incomingId: incomingId ?? null,
    });
    counts.add(copyId, { kind, at, counted, linkId: null, sentFileId: null });
    counts.write();
  }

  /** Judges all hits of a message again. Returns how many changed. */
  rejudge(messageId: number, now: number): number {
    const changed = this.verdicts.judgeWhole(messageId, now);
    if (changed > 0) this.recount(messageId);
    return changed;
  }

  /**
   * Sets the sender’s own verdict on hits, which teaches what their networks are; null leaves them to the rules again.
   *
   * @returns the hits that were there
   */
  setOverrides(eventIds: readonly number[], counted: boolean | null, now: number): number[] {
    const messages = new Map<number, number>();
    for (const id of eventIds) {
      const messageId = this.setOverride(id, counted, now);
      if (messageId !== undefined) messages.set(id, messageId);
    }
    for (const messageId of new Set(messages.values())) {
      this.verdicts.judgeWhole(messageId, now);
      this.recount(messageId);
    }
    return [...messages.keys()];
  }

  /** Returns the message that it belongs to; undefined where the event is none that can be judged. */
  private setOverride(id: number, counted: boolean | null, now: number): number | undefined {
    const messageId = this.statements.messageOfEvent.first({ id })?.[0] as number | undefined;
    if (messageId === undefined) return undefined;
    const hit = this.hits.one(id);
    if (hit) this.memory.relearn(hit, lessonOfOverride(counted), counted);
    const verdict = { counted: counted ?? true, reason: counted === false ? OVERRIDDEN.name : null };
    this.statements.override.run({
      id,
      override: counted === null ? null : Number(counted),
      counted: Number(verdict.counted),
      reason: verdict.reason,
    });
    this.statements.corrected.run({ at: now, messageId, eventId: id });
    this.verdicts.pagesFollow(id, verdict);
    return messageId;
  }

  /** Lets a reply count, or not, as the user says. */
  setReplyCounted(incomingId: number, counted: boolean, now: number): void {
    const [id, messageId] = (this.statements.replyOf.first({ incomingId }) ?? []) as [number?, number?];
    if (id === undefined || messageId === undefined) return;
    const reason = counted ? null : OVERRIDDEN.name;
    this.statements.override.run({ id, override: Number(counted), counted: Number(counted), reason });
    this.statements.corrected.run({ at: now, messageId, eventId: id });
    this.recount(messageId);
  }

  /** Counts a message from what is written of it. */
  recount(messageId: number): void {
    const counts = new Counts(this.statements);
    counts.recount(messageId);
    counts.write();
  }
}
