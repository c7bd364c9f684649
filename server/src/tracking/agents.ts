import QuickLRU from 'quick-lru';
import { describeAgent, type Agent } from '@kiraku/core/tracking';
import type { Statements } from './statements.js';

const USER_AGENT_LENGTH = 512;

/** User-Agent headers, each stored once with what it tells. */
export class Agents {
  private readonly described = new QuickLRU<string, Agent>({ maxSize: 5000 });
  private readonly ids = new QuickLRU<string, number>({ maxSize: 5000 });

  constructor(private readonly statements: Pick<Statements, 'agent'>) {}

  describe(userAgent: string): Agent {
    const known = this.described.get(userAgent);
    if (known) return known;
    const agent = describeAgent(userAgent);
    this.described.set(userAgent, agent);
    return agent;
  }

  /** The header as far as it is kept. */
  shortened(userAgent: string): string {
    return userAgent.slice(0, USER_AGENT_LENGTH);
  }

  /** The row of a header, made where there is none. */
  idOf(userAgent: string): number {
    const known = this.ids.get(userAgent);
    if (known !== undefined) return known;
    const [id] = this.statements.agent.first({ userAgent, ...this.describe(userAgent) }) as [number];
    this.ids.set(userAgent, id);
    return id;
  }

  /** After a transaction that did not come about: its rows were not made. */
  forget(): void {
    this.ids.clear();
  }
}
