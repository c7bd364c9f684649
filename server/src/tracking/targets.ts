import QuickLRU from 'quick-lru';
import type { Statements } from './statements.js';

/** What a token of the public door can stand for. */
export type HitTarget = 'image' | 'link';

/** What a token stands for. None of it ever changes. */
export interface Target {
  copyId: number;
  linkId: number | null;
  /** Where the link leads; null for the image. */
  url: string | null;
}

/** Looks tokens up; those that come again, from memory. */
export class Targets {
  private readonly known = new QuickLRU<string, Target>({ maxSize: 20_000 });

  constructor(private readonly statements: Pick<Statements, HitTarget>) {}

  find(kind: HitTarget, token: string): Target | null {
    const known = this.known.get(token);
    if (known && (known.linkId === null) === (kind === 'image')) return known;
    const found = this.statements[kind].first({ token });
    if (!found) return null;
    const [copyId, linkId = null, url = null] = found as [number, number?, string?];
    const target = { copyId, linkId, url };
    this.known.set(token, target);
    return target;
  }
}
