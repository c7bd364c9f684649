import QuickLRU from 'quick-lru';
import { SECOND } from '@kiraku/core/time';
import { FLOOD, networkOf, REACH_MS, type HitLoad, type Hit } from '@kiraku/core/tracking';
import type { Agents } from './agents.js';
import type { Statements } from './statements.js';

/** A hit as it is written down, with the verdict that it has. */
export interface StoredHit extends Hit {
  reason: string | null;
  notifies: boolean;
  /** The sender’s own verdict; null where the rules decide. */
  override: boolean | null;
}

/** What was written of one message from a time on. */
export class Recent {
  /** Those that were judged. */
  readonly hits: StoredHit[] = [];
  /** Those that stand for a flood each. */
  readonly floods: StoredHit[] = [];
  /** How many were judged of each copy over each network: looked at far more often than the hits. */
  private readonly numbers = new Map<string, number>();

  constructor(
    readonly from: number,
    hits: readonly StoredHit[],
  ) {
    for (const hit of hits) this.add(hit);
  }

  add(hit: StoredHit): void {
    if (hit.reason === FLOOD.name) return void this.floods.push(hit);
    this.hits.push(hit);
    this.numbers.set(sourceOf(hit), (this.numbers.get(sourceOf(hit)) ?? 0) + 1);
  }

  load(hit: Hit): HitLoad {
    return { ofCopyOverNetwork: this.numbers.get(sourceOf(hit)) ?? 0, ofMessage: this.hits.length };
  }

  floodOf({ copyId, linkId, sentFileId, network }: Hit): StoredHit | undefined {
    return this.floods.find(
      (row) =>
        row.copyId === copyId && row.linkId === linkId && row.sentFileId === sentFileId && row.network === network,
    );
  }

  since(from: number): Recent {
    return new Recent(
      from,
      [...this.hits, ...this.floods].filter((hit) => hit.at >= from),
    );
  }
}

/** A verdict within reach of a new hit may change, and depends on hits that lie twice as far from it. */
const AROUND_MS = 3 * REACH_MS;
/** What lies farther back stays this long before it is let go of: it changes nothing, and letting go takes time. */
const JUDGING_SLACK_MS = 15 * SECOND;

/** Reads the hits that were written, those around a new one from memory where they can be. */
export class StoredHits {
  private readonly recent = new QuickLRU<number, Recent>({ maxSize: 10_000 });

  constructor(
    private readonly statements: Pick<Statements, 'hitsBetween' | 'hitsOfMessage'>,
    private readonly agents: Agents,
  ) {}

  ofMessage(messageId: number): StoredHit[] {
    return this.statements.hitsOfMessage.all({ messageId }).map((row) => this.read(row));
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
      network: networkOf(address),
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
    };
  }
}

function sourceOf({ copyId, network }: Hit): string {
  return `${copyId} ${network}`;
}
