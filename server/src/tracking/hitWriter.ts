import { FLOOD, isFlood, judge, networkOf, REACH_MS, type Hit, type Verdict } from '@kiraku/core/tracking';
import type { Database } from '../store/database.js';
import { Agents } from './agents.js';
import { ChoicesReader, copiesOf, situationOf, type Choices } from './choices.js';
import { Counts } from './counts.js';
import { revise } from './eventWriter.js';
import type { Place, Places } from './places.js';
import { compileStatements, type Statements } from './statements.js';
import { StoredHits, type Recent, type StoredHit } from './storedHits.js';
import { Targets, type HitTarget, type Target } from './targets.js';

/** A request at the public door, with the token it named. */
export interface DoorHit {
  token: string;
  target: HitTarget;
  at: number;
  ip: string;
  userAgent: string;
  method: string;
  /** Value of `Sec-Purpose` or `Purpose`; empty where neither was sent. */
  purpose: string;
  /** Whether it carried the mark of a browser of the sender’s own. */
  mine: boolean;
  /** Whether it carried `DNT: 1` or `Sec-GPC: 1`. */
  unwilling: boolean;
}

/** What became of a hit. An unknown token is looked up and not recorded. */
export interface HitOutcome {
  known: boolean;
  /** Where the link leads; null for the image. */
  url: string | null;
}

const UNKNOWN: HitOutcome = { known: false, url: null };
const IN_FLOOD: Verdict = { counted: false, reason: FLOOD.name, rings: false };

/** Judges hits in the company of those before, and writes them with the counts that they move. */
export class HitWriter {
  private readonly statements: Statements;
  private readonly targets: Targets;
  private readonly agents: Agents;
  private readonly stored: StoredHits;
  private readonly choices: ChoicesReader;

  constructor(
    database: Database,
    private readonly places: Places,
  ) {
    this.statements = compileStatements(database);
    this.targets = new Targets(this.statements);
    this.agents = new Agents(this.statements);
    this.stored = new StoredHits(this.statements, this.agents);
    this.choices = new ChoicesReader(this.statements);
  }

  /** Within the caller’s transaction. One outcome for each hit, in their order. */
  write(hits: readonly DoorHit[]): HitOutcome[] {
    const counts = new Counts(this.statements);
    const choices = this.choices.read();
    const outcomes = hits.map((hit) => {
      const target = this.targets.find(hit.target, hit.token);
      if (!target) return UNKNOWN;
      this.writeHit(counts, choices, target, hit);
      return { known: true, url: target.url };
    });
    counts.write();
    return outcomes;
  }

  /** After a transaction that did not come about: what was remembered of it never happened. */
  forget(): void {
    this.agents.forget();
    this.stored.forget();
  }

  private writeHit(counts: Counts, choices: Choices, target: Target, doorHit: DoorHit): void {
    const standing = counts.standing(target.copyId);
    if (!standing || standing.declined) return;
    const { messageId } = standing;
    const place = this.places.find(doorHit.ip, choices.place);
    const hit = this.hitOf(target, doorHit, place);
    const around = this.stored.around(messageId, hit.at);
    if (isFlood(around.crowding(hit))) return this.addToFlood(counts, messageId, hit, around, choices);
    const others = around.hits;

    const copies = this.copiesOf(messageId, others, { ...standing, id: target.copyId });
    const situation = situationOf(choices, copies, standing.trackForDays);
    const verdicts = judge([...others, hit], situation);
    const verdict = verdicts.pop()!;
    // Farther away, what a verdict depends on may not be among the others.
    const isReached = (other: Hit) => Math.abs(other.at - hit.at) <= REACH_MS;
    const changed = revise(this.statements, messageId, others, verdicts, hit.at, isReached);
    around.add(this.insert(counts, messageId, hit, verdict, choices));
    if (changed > 0) counts.recount(messageId);
  }

  private hitOf(
    { copyId, linkId }: Target,
    { ip, userAgent, at, method, purpose, mine, unwilling }: DoorHit,
    { isHosted }: Place,
  ): Hit {
    const kept = this.agents.shortened(userAgent);
    return {
      // Until it is written: after all that came before.
      id: Infinity,
      at,
      kind: linkId === null ? 'opened' : 'clicked',
      copyId,
      linkId,
      ip,
      network: networkOf(ip),
      userAgent: kept,
      agent: this.agents.describe(kept),
      method,
      purpose,
      mine,
      unwilling,
      hosted: isHosted,
    };
  }

  /** The copies that hits in company are of. Most hits are alone, and need no query. */
  private copiesOf(
    messageId: number,
    others: readonly Hit[],
    own: { id: number; sentAt: number | null; address: string },
  ) {
    if (others.every(({ copyId }) => copyId === own.id)) return [own];
    return copiesOf(this.statements, messageId);
  }

  private insert(
    counts: Counts,
    messageId: number,
    hit: Hit,
    { counted, reason, rings }: Verdict,
    choices: Choices,
  ): StoredHit {
    const { at, kind, copyId, linkId, ip } = hit;
    const id = this.statements.event.insert({
      at,
      kind,
      counted: Number(counted),
      reason,
      rings: Number(rings),
      messageId,
      copyId,
      linkId,
      ip,
      agentId: this.agents.idOf(hit.userAgent),
      method: hit.method === 'GET' ? null : hit.method,
      purpose: hit.purpose || null,
      mine: Number(hit.mine),
      unwilling: Number(hit.unwilling),
      hosted: Number(hit.hosted),
      place: this.places.find(ip, choices.place).name,
    });
    counts.add(copyId, { kind, at, counted, linkId });
    return { ...hit, id, reason, rings, byHand: null };
  }

  /** What is told as one: the first makes a row, the others are numbered in it. */
  private addToFlood(counts: Counts, messageId: number, hit: Hit, around: Recent, choices: Choices): void {
    const row = around.floodOf(hit);
    if (!row) return around.add(this.insert(counts, messageId, hit, IN_FLOOD, choices));
    row.at = Math.max(row.at, hit.at);
    this.statements.flood.run({ id: row.id, at: row.at });
    counts.add(hit.copyId, { kind: hit.kind, at: hit.at, counted: false, linkId: hit.linkId });
  }
}
