import { bisector } from 'd3-array';
import { MINUTE, SECOND } from '../time/words.js';
import type { Hit } from './hit.js';

/** So far from a hit, what came over its network says something of it: a filter may take its time. */
export const NETWORK_REACH_MS = 10 * MINUTE;
/** So far from a hit, what else came of its copy says something of it, over whatever network. */
export const COPY_REACH_MS = 75 * SECOND;

/** Hits of one message, kept so that those around one of them are found without looking at all. */
export class Surroundings<H extends Hit = Hit> {
  /** All of them, in the order of their times. */
  private readonly all: H[] = [];
  private readonly networks = new Map<string, H[]>();
  private readonly copies = new Map<number, H[]>();

  /** @param hits in any order */
  constructor(hits: Iterable<H>) {
    for (const hit of [...hits].sort(byArrival)) this.add(hit);
  }

  add(hit: H): void {
    insert(this.all, hit);
    insert(groupOf(this.networks, hit.network), hit);
    insert(groupOf(this.copies, hit.copyId), hit);
  }

  /** All since a time, in the order of their times. */
  since(at: number): readonly H[] {
    return between(this.all, at, Infinity);
  }

  /** Whether none is of another copy. */
  isAllOf(copyId: number): boolean {
    return this.copies.size === 0 || (this.copies.size === 1 && this.copies.has(copyId));
  }

  /** How many there are from a time on until another. */
  count(from: number, to: number): number {
    return byTime.right(this.all, to) - byTime.left(this.all, from);
  }

  /** Those over the network of a hit, in the order of their times, itself among them. */
  overNetwork(hit: Pick<Hit, 'network' | 'at'>, beforeMs: number, afterMs = beforeMs): readonly H[] {
    return between(this.networks.get(hit.network), hit.at - beforeMs, hit.at + afterMs);
  }

  /** Those of the copy of a hit, over whatever network, in the order of their times, itself among them. */
  ofCopy(hit: Pick<Hit, 'copyId' | 'at'>, beforeMs: number, afterMs = beforeMs): readonly H[] {
    return between(this.copies.get(hit.copyId), hit.at - beforeMs, hit.at + afterMs);
  }
}

const byTime = bisector((hit: Hit) => hit.at);

function byArrival(a: Hit, b: Hit): number {
  return a.at - b.at || a.id - b.id;
}

function between<H extends Hit>(hits: readonly H[] = [], from: number, to: number): readonly H[] {
  if (hits.length === 0 || (hits[0]!.at >= from && hits.at(-1)!.at <= to)) return hits;
  return hits.slice(byTime.left(hits, from), byTime.right(hits, to));
}

function groupOf<K, H>(groups: Map<K, H[]>, key: K): H[] {
  const known = groups.get(key);
  if (known) return known;
  const group: H[] = [];
  groups.set(key, group);
  return group;
}

/** Nearly all come in the order of their times. */
function insert<H extends Hit>(hits: H[], hit: H): void {
  let place = hits.length;
  while (place > 0 && byArrival(hits[place - 1]!, hit) > 0) place -= 1;
  hits.splice(place, 0, hit);
}
