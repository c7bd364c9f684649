import QuickLRU from 'quick-lru';
import { describeAgent, type Agent } from '@kiraku/core/tracking';
import type { Statements } from './statements.js';

const MAX_STORED_USER_AGENT_CHARS = 512;

/** A User-Agent header as it is kept, with what it tells: hits by the same program share it. */
export interface KnownAgent {
  userAgent: string;
  agent: Agent;
}

/** User-Agent headers, each stored once with what it tells. */
export class Agents {
  private readonly known = new QuickLRU<string, KnownAgent>({ maxSize: 5000 });
  private readonly ids = new QuickLRU<string, number>({ maxSize: 5000 });

  constructor(private readonly statements: Pick<Statements, 'agent'>) {}

  /** @param header as it was sent, of any length */
  find(header: string): KnownAgent {
    const userAgent = header.slice(0, MAX_STORED_USER_AGENT_CHARS);
    const known = this.known.get(userAgent);
    if (known) return known;
    const found = { userAgent, agent: describeAgent(userAgent) };
    this.known.set(userAgent, found);
    return found;
  }

  /** The row of a header, made where there is none. */
  idOf({ userAgent, agent }: KnownAgent): number {
    const known = this.ids.get(userAgent);
    if (known !== undefined) return known;
    const [id] = this.statements.agent.first({ userAgent, ...agent }) as [number];
    this.ids.set(userAgent, id);
    return id;
  }

  /** After a transaction that did not come about: its rows were not made. */
  forget(): void {
    this.ids.clear();
  }
}
