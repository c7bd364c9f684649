import {
  FLOOD,
  isFact,
  isUncertain,
  judge,
  judgeAround,
  NETWORK_REACH_MS,
  Surroundings,
  verdictOfPages,
  type Hit,
  type Verdict,
} from '@kiraku/core/tracking';
import { copiesOf, situationOf, type Choices, type ChoicesReader, type SituatedCopy } from './choices.js';
import type { NetworkMemory } from './networkMemory.js';
import type { Statements } from './statements.js';
import type { Recent, StoredHit, StoredHits } from './storedHits.js';

/** What is written of a verdict. */
export type WrittenVerdict = Pick<StoredHit, 'reason' | 'notifies' | 'likelihood' | 'evidence'>;

/** Judges hits, and writes verdicts that are not what they were, within the caller’s transaction. */
export class Verdicts {
  constructor(
    private readonly statements: Statements,
    private readonly stored: StoredHits,
    private readonly choices: ChoicesReader,
    private readonly memory: NetworkMemory,
  ) {}

  /** Judges all hits of a message anew. Returns how many count otherwise than before; counts are to follow then. */
  judgeWhole(messageId: number, now: number): number {
    const hits = this.stored.ofMessage(messageId).filter(({ reason }) => reason !== FLOOD.name);
    const [trackForDays] = (this.statements.trackForDays.first({ messageId }) ?? [null]) as [number | null];
    const copies = copiesOf(this.statements, messageId);
    const situation = situationOf(this.choices.read(), copies, trackForDays, {
      networkFrom: this.memory.elsewhere(new Surroundings(hits)),
      optOutAsked: this.optOutAsked,
      links: () => this.stored.linksOf(messageId),
    });
    const verdicts = judge(hits, situation);
    return this.revise(messageId, new Map(hits.map((hit, index) => [hit, verdicts[index]!])), now);
  }

  /**
   * Judges a new hit, which takes its verdict and is not written yet, and those around it that it makes another of.
   *
   * @param around what matters to it; it is added
   * @returns how many of the others count otherwise than before
   */
  judgeNew(
    hit: StoredHit,
    around: Recent,
    {
      messageId,
      choices,
      copies,
      trackForDays,
    }: {
      messageId: number;
      choices: Choices;
      copies: readonly SituatedCopy[];
      trackForDays: number | null;
    },
  ): number {
    around.add(hit);
    const situation = situationOf(choices, copies, trackForDays, {
      networkFrom: this.memory.elsewhere(around.surroundings),
      optOutAsked: this.optOutAsked,
      links: () => (around.links ??= this.stored.linksOf(messageId)),
    });
    const verdicts = judgeAround(hit, around.surroundings, situation);
    const own = verdicts.get(hit)!;
    Object.assign(hit, written(own), this.memory.place(hit, own.lesson));
    this.memory.learn(hit);
    return this.revise(messageId, new Map([...verdicts].flatMap(asBefore)), hit.at);
  }

  /** Notes that the page to opt out was asked for. Returns whether that was not known around the time. */
  noteOptOutVisit(visit: Pick<Hit, 'copyId' | 'network' | 'at'>): boolean {
    if (this.optOutAsked(visit)) return false;
    const { copyId, network, at } = visit;
    this.statements.optOutVisit.run({ copyId, network, at });
    return true;
  }

  private readonly optOutAsked = ({ copyId, network, at }: Pick<Hit, 'copyId' | 'network' | 'at'>): boolean => {
    const visitedAt = this.statements.optOutVisitAt.first({ copyId, network })?.[0] as number | undefined;
    return visitedAt !== undefined && Math.abs(visitedAt - at) <= NETWORK_REACH_MS;
  };

  /** Sets the verdict on the pages that were read after an opening. */
  pagesFollow(eventId: number, opening: Pick<Verdict, 'counted' | 'reason'>): void {
    const { counted, reason } = verdictOfPages(opening);
    this.statements.pagesFollow.run({ id: eventId, counted: Number(counted), reason });
  }

  /**
   * Writes down verdicts that are not what they were, and notes each for the live stream. What the sender has decided
   * stays. The hits take their new verdict.
   */
  private revise(messageId: number, verdicts: ReadonlyMap<StoredHit, Verdict>, now: number): number {
    let changed = 0;
    for (const [hit, verdict] of verdicts) {
      if (hit.override !== null) continue;
      this.memory.relearn(hit, verdict.lesson, null);
      const after = written(verdict);
      if (VERDICT_FIELDS.every((field) => hit[field] === after[field])) continue;
      this.statements.verdict.run({
        ...after,
        id: hit.id,
        counted: Number(verdict.counted),
        notifies: Number(after.notifies),
      });
      this.statements.corrected.run({ at: now, messageId, eventId: hit.id });
      if (hit.kind === 'file_viewed') this.pagesFollow(hit.id, verdict);
      if (countsOtherwise(hit, after)) changed += 1;
      Object.assign(hit, after);
    }
    return changed;
  }
}

const VERDICT_FIELDS = ['reason', 'notifies', 'likelihood', 'evidence'] as const;

function written({ reason, notifies, likelihood, evidence }: Verdict): WrittenVerdict {
  return { reason, notifies, likelihood, evidence: evidence.join() || null };
}

/**
 * Of a verdict, what another hit can change. Facts and choices it cannot: where those have become others since, what is past
 * stays as it is until all is judged anew.
 */
function asBefore([hit, verdict]: [StoredHit, Verdict]): [StoredHit, Verdict][] {
  if (hit.id === Infinity || isFact(hit.reason) || isFact(verdict.reason)) return [];
  const stays = hit.reason === null && verdict.counted;
  return [[hit, stays ? { ...verdict, notifies: hit.notifies } : verdict]];
}

function countsOtherwise(before: WrittenVerdict, after: WrittenVerdict): boolean {
  return (
    before.reason !== after.reason || before.notifies !== after.notifies || isUncertain(before) !== isUncertain(after)
  );
}
