import QuickLRU from 'quick-lru';
import type { HitKind } from '@kiraku/core/activity';
import type { Statements } from './statements.js';

/** What a token of the public site can stand for. */
type TokenKind = 'image' | 'link' | 'file';
/** What is asked of it. */
export type HitTarget = TokenKind | 'download';

/** Whose token it is that is asked, and what it is taken for. */
export const TARGETS: Record<HitTarget, { tokenOf: TokenKind; kind: HitKind }> = {
  image: { tokenOf: 'image', kind: 'opened' },
  link: { tokenOf: 'link', kind: 'clicked' },
  file: { tokenOf: 'file', kind: 'file_viewed' },
  download: { tokenOf: 'file', kind: 'downloaded' },
};

/** What a token stands for. None of it ever changes. */
export interface Target {
  of: TokenKind;
  copyId: number;
  linkId: number | null;
  sentFileId: number | null;
  /** Where a link leads; null for all else. */
  url: string | null;
}

type Row = [copyId: number, id?: number, url?: string];

/** Looks tokens up; those that come again, from memory. */
export class Targets {
  private readonly known = new QuickLRU<string, Target>({ maxSize: 20_000 });

  constructor(private readonly statements: Pick<Statements, TokenKind>) {}

  find(target: HitTarget, token: string): Target | null {
    const of = TARGETS[target].tokenOf;
    const known = this.known.get(token);
    if (known?.of === of) return known;
    const found = this.statements[of].first({ token });
    if (!found) return null;
    const [copyId, id = null, url = null] = found as Row;
    const own = { of, copyId, linkId: of === 'link' ? id : null, sentFileId: of === 'file' ? id : null, url };
    this.known.set(token, own);
    return own;
  }
}
