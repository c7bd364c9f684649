import type { NetworkKind } from '@kiraku/core/contract';
import {
  countsAt,
  isWorthRemembering,
  learnt,
  REACH_MS,
  seenAs,
  timesTaught,
  UNKNOWN_NETWORK,
  type Hit,
  type KnownNetwork,
  type Lesson,
  type NetworkCounts,
  type Surroundings,
} from '@kiraku/core/tracking';
import type { Statements } from './statements.js';
import type { StoredHit } from './storedHits.js';

interface RememberedNetwork extends NetworkCounts {
  id: number;
  namedAs: NetworkKind | null;
}

/** What networks were seen to be: read to judge by, and taught by what was judged, within the caller’s transaction. */
export class NetworkMemory {
  constructor(private readonly statements: Pick<Statements, 'network' | 'addNetwork' | 'networkCounts' | 'lesson'>) {}

  /**
   * Tells of the network of a hit what is known from elsewhere: what was learnt around the hit itself says nothing more than
   * the evidence that it was learnt from.
   *
   * @param around hits of its message, with what they have taught
   */
  elsewhere(around: Surroundings<StoredHit>): (hit: Hit) => KnownNetwork {
    const found = new Map<string, RememberedNetwork | undefined>();
    const find = (prefix: string) => {
      if (!found.has(prefix)) found.set(prefix, this.find(prefix));
      return found.get(prefix);
    };
    return (hit) => {
      const network = find(hit.network);
      if (!network) return UNKNOWN_NETWORK;
      const near = around.overNetwork(hit, REACH_MS);
      const counts = near.reduce<NetworkCounts>(
        (rest, { lesson, override, at }) => (lesson === null ? rest : learnt(rest, lesson, -timesTaught(override), at)),
        countsAt(network, hit.at),
      );
      return { seenAs: seenAs(counts), namedAs: network.namedAs };
    };
  }

  /** The network that a hit is to be remembered with, and what it teaches of it: neither where people live. */
  place(hit: StoredHit, lesson: Lesson | null): Pick<StoredHit, 'networkId' | 'lesson'> {
    const known = this.find(hit.network);
    if (!known && !isWorthRemembering(hit.hosted, lesson)) return { networkId: null, lesson: null };
    return { networkId: known?.id ?? this.statements.addNetwork.insert({ prefix: hit.network, at: hit.at }), lesson };
  }

  /** Takes down what a new hit teaches. */
  learn({ network, lesson, override, at }: StoredHit): void {
    if (lesson !== null) this.count(network, lesson, timesTaught(override), at);
  }

  /**
   * Takes down what a hit teaches now, in place of what it taught before; the hit takes it.
   *
   * @param override the sender’s own verdict as it is now
   */
  relearn(hit: StoredHit, lesson: Lesson | null, override: boolean | null): void {
    const now = this.place(hit, lesson);
    const isSame = now.lesson === hit.lesson && timesTaught(override) === timesTaught(hit.override);
    if (isSame && now.networkId === hit.networkId) return;
    if (hit.lesson !== null) this.count(hit.network, hit.lesson, -timesTaught(hit.override), hit.at);
    if (now.lesson !== null) this.count(hit.network, now.lesson, timesTaught(override), hit.at);
    this.statements.lesson.run({ id: hit.id, ...now });
    Object.assign(hit, now);
  }

  private count(prefix: string, lesson: Lesson, times: number, at: number): void {
    const known = this.find(prefix);
    if (known) this.statements.networkCounts.run({ id: known.id, ...learnt(pick(known), lesson, times, at) });
  }

  private find(prefix: string): RememberedNetwork | undefined {
    const row = this.statements.network.first({ prefix });
    if (!row) return undefined;
    const [id, filter, people, at, namedAs] = row as [number, number, number, number, NetworkKind | null];
    return { id, filter, people, at, namedAs };
  }
}

function pick({ filter, people, at }: NetworkCounts): NetworkCounts {
  return { filter, people, at };
}
