import type { HitKind } from '@kiraku/core/activity';
import { FLOOD, isFlood, isUncertain, NETWORK_REACH_MS, networkOf } from '@kiraku/core/tracking';
import type { Database } from '../store/database.js';
import { Agents } from './agents.js';
import type { Arrival, PublicHit } from './arrival.js';
import { ChoicesReader, copiesOf, type Choices } from './choices.js';
import { Counts } from './counts.js';
import { NetworkMemory } from './networkMemory.js';
import type { Place, Places } from './places.js';
import { compileStatements, type Statements } from './statements.js';
import { StoredHits, type Recent, type StoredHit } from './storedHits.js';
import { ReadingWriter } from './readingWriter.js';
import { TARGETS, Targets, type Target } from './targets.repository.js';
import { Verdicts } from './verdicts.js';

/** Judges hits in the company of those before, and writes them with the counts that they move. */
export class HitWriter {
  private readonly statements: Statements;
  private readonly targets: Targets;
  private readonly agents: Agents;
  private readonly stored: StoredHits;
  private readonly choices: ChoicesReader;
  private readonly verdicts: Verdicts;
  private readonly readings: ReadingWriter;
  /** The last change that what is remembered of hits knows of. */
  private correctedUpTo: number;

  constructor(
    database: Database,
    private readonly places: Places,
  ) {
    this.statements = compileStatements(database);
    this.targets = new Targets(database);
    this.agents = new Agents(this.statements);
    this.stored = new StoredHits(this.statements, this.agents);
    this.choices = new ChoicesReader(this.statements);
    const memory = new NetworkMemory(this.statements);
    this.verdicts = new Verdicts(this.statements, this.stored, this.choices, memory);
    this.readings = new ReadingWriter(this.statements, this.stored, this.verdicts);
    this.correctedUpTo = this.lastChange();
  }

  /** Within the caller’s transaction. What names a token that is not known is left out. */
  write(arrivals: readonly Arrival[]): void {
    this.forgetCorrected();
    const counts = new Counts(this.statements);
    const choices = this.choices.read();
    for (const arrival of arrivals) {
      if ('visits' in arrival) this.readings.write(counts, arrival);
      else {
        const target = this.targets.find(arrival.target, arrival.token);
        if (target) this.writeHit(counts, choices, target, arrival);
      }
    }
    counts.write();
    this.correctedUpTo = this.lastChange();
  }

  /** After a transaction that did not come about: what was remembered of it never happened. */
  forget(): void {
    this.agents.forget();
    this.stored.forget();
    this.correctedUpTo = this.lastChange();
  }

  /** What others have decided or judged anew meanwhile is read again: the user, at the desk. */
  private forgetCorrected(): void {
    for (const [messageId] of this.statements.correctedAfter.all({ id: this.correctedUpTo }))
      this.stored.forgetMessage(messageId as number);
  }

  private lastChange(): number {
    return (this.statements.lastChange.first({})![0] as number | null) ?? 0;
  }

  private writeHit(counts: Counts, choices: Choices, target: Target, publicHit: PublicHit): void {
    const copyFacts = counts.copyFacts(target.copyId);
    if (!copyFacts || copyFacts.declined) return;
    const { messageId } = copyFacts;
    const place = this.places.find(publicHit.ip, choices.place);
    const { kind } = TARGETS[publicHit.target];
    if (kind === null) return this.writeOptOutVisit(counts, messageId, target.copyId, publicHit, place);
    const hit = this.hitOf(kind, target, publicHit, place);
    const around = this.stored.around(messageId, hit.at);
    if (isFlood(around.load(hit))) return this.addToFlood(counts, messageId, hit, around, choices);
    const own = { ...copyFacts, id: target.copyId };
    const copies = around.surroundings.isAllOf(own.id) ? [own] : copiesOf(this.statements, messageId);
    const { trackForDays } = copyFacts;
    const changed = this.verdicts.judgeNew(hit, around, { messageId, choices, copies, trackForDays });
    this.insert(counts, messageId, hit, choices, publicHit.reading);
    if (changed > 0) counts.recount(messageId);
    this.readings.begin(hit, publicHit);
  }

  private hitOf(
    kind: HitKind,
    { copyId, linkId, sentFileId }: Target,
    { ip, userAgent, at, method, purpose, ownDevice, dnt }: PublicHit,
    { owner }: Place,
  ): StoredHit {
    const known = this.agents.find(userAgent);
    // Written out, and completed in place later: copied by spreading, each of very many would get a shape of its own.
    return {
      // Until it is written: after all that came before.
      id: Infinity,
      at,
      kind,
      copyId,
      linkId,
      sentFileId,
      ip,
      network: networkOf(ip, owner !== null),
      userAgent: known.userAgent,
      agent: known.agent,
      method,
      purpose,
      ownDevice,
      dnt,
      hosted: owner !== null,
      active: false,
      reason: null,
      notifies: false,
      likelihood: null,
      evidence: null,
      networkId: null,
      lesson: null,
      override: null,
    };
  }

  /** Evidence for what else came over the network of a data centre; who asks from elsewhere is not recorded. */
  private writeOptOutVisit(
    counts: Counts,
    messageId: number,
    copyId: number,
    { ip, at }: PublicHit,
    { owner }: Place,
  ): void {
    if (owner === null) return;
    const network = networkOf(ip, true);
    const isNew = this.verdicts.noteOptOutVisit({ copyId, network, at });
    // Alone, it is evidence for nothing; and asked for again and again, for nothing more.
    const { surroundings } = this.stored.around(messageId, at);
    if (!isNew || surroundings.overNetwork({ network, at }, NETWORK_REACH_MS).length === 0) return;
    this.stored.forgetMessage(messageId);
    if (this.verdicts.judgeWhole(messageId, at) > 0) counts.recount(messageId);
  }

  /** Writes a hit with its verdict; it takes the number of its row. */
  private insert(
    counts: Counts,
    messageId: number,
    hit: StoredHit,
    choices: Choices,
    reading?: PublicHit['reading'],
  ): void {
    const { at, kind, copyId, linkId, sentFileId, ip, reason, likelihood, evidence, networkId, lesson } = hit;
    const counted = reason === null;
    const statement = sentFileId === null ? this.statements.event : this.statements.fileEvent;
    hit.id = statement.insert({
      at,
      kind,
      counted: Number(counted),
      reason,
      notifies: Number(hit.notifies),
      likelihood,
      evidence,
      networkId,
      lesson,
      messageId,
      copyId,
      linkId,
      ip,
      agentId: this.agents.idOf(hit),
      method: hit.method === 'GET' ? null : hit.method,
      purpose: hit.purpose || null,
      ownDevice: Number(hit.ownDevice),
      dnt: Number(hit.dnt),
      hosted: Number(hit.hosted),
      place: this.places.find(ip, choices.place).name,
      ...(sentFileId !== null && {
        sentFileId,
        readingId: this.readings.idOf(reading, copyId),
        visit: null,
        page: null,
        readMs: null,
      }),
    });
    counts.add(copyId, { kind, at, counted, uncertain: isUncertain(hit), linkId, sentFileId });
  }

  /** What is told as one: the first makes a row, the others are numbered in it. */
  private addToFlood(counts: Counts, messageId: number, hit: StoredHit, around: Recent, choices: Choices): void {
    const row = around.floodOf(hit);
    if (!row) {
      hit.reason = FLOOD.name;
      this.insert(counts, messageId, hit, choices);
      return around.add(hit);
    }
    row.at = Math.max(row.at, hit.at);
    this.statements.flood.run({ id: row.id, at: row.at });
    counts.add(hit.copyId, { ...hit, counted: false });
  }
}
