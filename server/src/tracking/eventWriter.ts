import type { EventKind } from '@kiraku/core/contract';
import { OVERRIDDEN, FLOOD, judge, verdictOfPages, type Verdict } from '@kiraku/core/tracking';
import type { Database } from '../store/database.js';
import { Agents } from './agents.js';
import { ChoicesReader, copiesOf, situationOf } from './choices.js';
import { Counts } from './counts.js';
import { compileStatements, type Statements } from './statements.js';
import { StoredHits, type StoredHit } from './storedHits.js';

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
  private readonly choices: ChoicesReader;

  constructor(database: Database) {
    this.statements = compileStatements(database);
    this.hits = new StoredHits(this.statements, new Agents(this.statements));
    this.choices = new ChoicesReader(this.statements);
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
    const changed = this.reviseAll(messageId, now);
    if (changed > 0) this.recount(messageId);
    return changed;
  }

  private reviseAll(messageId: number, now: number): number {
    return judgeWhole(this.statements, this.hits, this.choices, messageId, now);
  }

  /**
   * Sets the sender’s own verdict on a hit; null leaves it to the rules again.
   *
   * @returns the message it belongs to; undefined where the event is none that can be judged
   */
  setOverride(eventId: number, counted: boolean | null, now: number): number | undefined {
    const messageId = this.statements.messageOfEvent.first({ id: eventId })?.[0] as number | undefined;
    if (messageId === undefined) return undefined;
    this.statements.override.run({
      id: eventId,
      override: counted === null ? null : Number(counted),
      counted: Number(counted ?? true),
      reason: counted === false ? OVERRIDDEN.name : null,
    });
    this.statements.corrected.run({ at: now, messageId, eventId });
    pagesFollow(this.statements, eventId, {
      counted: counted ?? true,
      reason: counted === false ? OVERRIDDEN.name : null,
    });
    this.reviseAll(messageId, now);
    this.recount(messageId);
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

/** Judges all hits of a message anew. Returns how many verdicts came out otherwise; counts are to follow then. */
export function judgeWhole(
  statements: Statements,
  stored: StoredHits,
  choices: ChoicesReader,
  messageId: number,
  now: number,
): number {
  const hits = stored.ofMessage(messageId).filter(({ reason }) => reason !== FLOOD.name);
  const [trackForDays] = (statements.trackForDays.first({ messageId }) ?? [null]) as [number | null];
  const situation = situationOf(choices.read(), copiesOf(statements, messageId), trackForDays);
  return revise(statements, messageId, hits, judge(hits, situation), now);
}

/** The pages that were read after an opening follow its verdict. */
function pagesFollow(
  statements: Pick<Statements, 'pagesFollow'>,
  eventId: number,
  opening: Omit<Verdict, 'notifies'>,
): void {
  const { counted, reason } = verdictOfPages(opening);
  statements.pagesFollow.run({ id: eventId, counted: Number(counted), reason });
}

/**
 * Writes down verdicts that are not what they were, and notes each for the live stream. What the sender has decided
 * stays. Counts are to be made anew where any has changed.
 *
 * @param hits in the order of the verdicts; they take their new verdict
 * @param isReached which of them may change; all where nothing is said
 * @returns how many have changed
 */
export function revise(
  statements: Pick<Statements, 'verdict' | 'corrected' | 'pagesFollow'>,
  messageId: number,
  hits: readonly StoredHit[],
  verdicts: readonly Verdict[],
  now: number,
  isReached: (hit: StoredHit) => boolean = () => true,
): number {
  let changed = 0;
  hits.forEach((hit, index) => {
    const { counted, reason, notifies } = verdicts[index]!;
    if (!isReached(hit) || hit.override !== null || (hit.reason === reason && hit.notifies === notifies)) return;
    statements.verdict.run({ id: hit.id, counted: Number(counted), reason, notifies: Number(notifies) });
    statements.corrected.run({ at: now, messageId, eventId: hit.id });
    if (hit.kind === 'file_viewed') pagesFollow(statements, hit.id, { counted, reason });
    Object.assign(hit, { reason, notifies });
    changed += 1;
  });
  return changed;
}
