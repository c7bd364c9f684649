import QuickLRU from 'quick-lru';
import { MINUTE } from '@kiraku/core/time';
import {
  FLOOD,
  FLOOD_WINDOW_MS,
  networkOf,
  REACH_MS,
  Surroundings,
  type HitLoad,
  type Hit,
  type Lesson,
} from '@kiraku/core/tracking';
import type { Agents } from './agents.js';
import type { Statements } from './statements.js';

/** A hit as it is written down, with the verdict that it has. */
export interface StoredHit extends Hit {
  reason: string | null;
  notifies: boolean;
  likelihood: number | null;
  /** Names, with a comma between them; null where there are none. */
  evidence: string | null;
  /** Of the network that it is remembered with; null where that is not remembered. */
  networkId: number | null;
  /** What it has taught of its network; null where that is nothing. */
  lesson: Lesson | null;
  /** The sender’s own verdict; null where the rules decide. */
  override: boolean | null;
}

/** What was written of one message from a time on. */
export class Recent {
  /** Those that were judged. */
  readonly surroundings: Surroundings<StoredHit>;
  /** Those that stand for a flood each. */
  private readonly floods: StoredHit[];
  /** How many tracked links its copies have, once that was asked. */
  links: number | undefined;

  constructor(
    readonly from: number,
    hits: readonly StoredHit[],
  ) {
    this.floods = hits.filter(({ reason }) => reason === FLOOD.name);
    this.surroundings = new Surroundings(hits.filter(({ reason }) => reason !== FLOOD.name));
  }

  add(hit: StoredHit): void {
    if (hit.reason === FLOOD.name) this.floods.push(hit);
    else this.surroundings.add(hit);
  }

  load(hit: Hit): HitLoad {
    const ofNetwork = this.surroundings.overNetwork(hit, FLOOD_WINDOW_MS);
    return {
      ofCopyOverNetwork: ofNetwork.filter(({ copyId }) => copyId === hit.copyId).length,
      ofMessage: this.surroundings.count(hit.at - FLOOD_WINDOW_MS, hit.at + FLOOD_WINDOW_MS),
    };
  }

  floodOf({ copyId, linkId, sentFileId, network, at }: Hit): StoredHit | undefined {
    return this.floods.find(
      (row) =>
        row.copyId === copyId &&
        row.linkId === linkId &&
        row.sentFileId === sentFileId &&
        row.network === network &&
        Math.abs(row.at - at) <= FLOOD_WINDOW_MS,
    );
  }

  since(from: number): Recent {
    const floods = this.floods.filter(({ at }) => at >= from);
    const recent = new Recent(from, [...this.surroundings.since(from), ...floods]);
    recent.links = this.links;
    return recent;
  }
}

/** A hit changes verdicts within reach of it, which depend on what is as far away from them. */
const AROUND_MS = 2 * REACH_MS;
/** What lies farther back stays this long before it is let go of: it changes nothing, and letting go takes time. */
const JUDGING_SLACK_MS = 2 * MINUTE;

/** Reads the hits that were written, those around a new one from memory where they can be. */
export class StoredHits {
  private readonly recent = new QuickLRU<number, Recent>({ maxSize: 10_000 });

  constructor(
    private readonly statements: Pick<Statements, 'hit' | 'hitsBetween' | 'hitsOfMessage' | 'linkCount'>,
    private readonly agents: Agents,
  ) {}

  ofMessage(messageId: number): StoredHit[] {
    return this.statements.hitsOfMessage.all({ messageId }).map((row) => this.read(row));
  }

  /** One hit; undefined where there is no such hit. */
  one(id: number): StoredHit | undefined {
    const row = this.statements.hit.first({ id });
    return row && this.read(row);
  }

  /** How many tracked links each copy of a message has. */
  linksOf(messageId: number): number {
    return this.statements.linkCount.first({ messageId })![0] as number;
  }

  /** What of a message matters to a new hit at a time; the new one is to be added. */
  around(messageId: number, at: number): Recent {
    const from = at - AROUND_MS;
    const known = this.recent.get(messageId);
    if (known && known.from <= from && from - known.from <= JUDGING_SLACK_MS) return known;
    const recent = known && known.from <= from ? known.since(from) : this.load(messageId, from, at + AROUND_MS);
    this.recent.set(messageId, recent);
    return recent;
  }

  private load(messageId: number, from: number, to: number): Recent {
    return new Recent(
      from,
      this.statements.hitsBetween.all({ messageId, from, to }).map((row) => this.read(row)),
    );
  }

  /** Of a message whose hits were changed by others. */
  forgetMessage(messageId: number): void {
    this.recent.delete(messageId);
  }

  /** After a transaction that did not come about: what was added in it is not there. */
  forget(): void {
    this.recent.clear();
  }

  private read(row: unknown[]): StoredHit {
    const [
      id,
      at,
      kind,
      copyId,
      linkId,
      sentFileId,
      ip,
      active,
      userAgent,
      method,
      purpose,
      ownDevice,
      dnt,
      hosted,
      reason,
      notifies,
      override,
      likelihood,
      evidence,
      networkId,
      lesson,
    ] = row as [
      number,
      number,
      Hit['kind'],
      number,
      number | null,
      number | null,
      string | null,
      number,
      string,
      ...(string | number | null)[],
    ];
    const address = (ip ?? '') as string;
    const known = this.agents.find(userAgent);
    return {
      id,
      at,
      kind,
      copyId,
      linkId,
      sentFileId,
      ip: address,
      network: networkOf(address, hosted === 1),
      userAgent: known.userAgent,
      agent: known.agent,
      method: (method as string) ?? 'GET',
      purpose: (purpose as string) ?? '',
      ownDevice: ownDevice === 1,
      dnt: dnt === 1,
      hosted: hosted === 1,
      active: active === 1,
      reason: reason as string | null,
      notifies: notifies === 1,
      override: override === null ? null : override === 1,
      likelihood: likelihood as number | null,
      evidence: evidence as string | null,
      networkId: networkId as number | null,
      lesson: lesson as Lesson | null,
    };
  }
}
