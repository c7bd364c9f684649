import QuickLRU from 'quick-lru';
import type { HitKind } from '@kiraku/core/activity';
import { eq, sql } from 'drizzle-orm';
import { compile, type Compiled } from '../store/compile.js';
import type { Database } from '../store/database.js';
import { copy, copyFile, copyLink, link } from '../store/schema.js';

/** What a token of the public site can stand for. */
type TokenKind = 'image' | 'link' | 'file';
/** What is asked of it. */
export type HitTarget = TokenKind | 'download' | 'optOutPage';

/** Whose token it is that is asked, and what it is taken for; null where it is no activity. */
export const TARGETS: Record<HitTarget, { tokenOf: TokenKind; kind: HitKind | null }> = {
  image: { tokenOf: 'image', kind: 'opened' },
  link: { tokenOf: 'link', kind: 'clicked' },
  file: { tokenOf: 'file', kind: 'file_viewed' },
  download: { tokenOf: 'file', kind: 'downloaded' },
  optOutPage: { tokenOf: 'image', kind: null },
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

/** How each kind of token is looked up, in the columns of a row. */
export function targetQueries(database: Database) {
  const token = sql.placeholder('token');
  return {
    image: database.select({ copyId: copy.id }).from(copy).where(eq(copy.imageToken, token)),
    link: database
      .select({ copyId: copyLink.copyId, linkId: link.id, url: link.url })
      .from(copyLink)
      .innerJoin(link, eq(link.id, copyLink.linkId))
      .where(eq(copyLink.token, token)),
    file: database
      .select({ copyId: copyFile.copyId, sentFileId: copyFile.sentFileId })
      .from(copyFile)
      .where(eq(copyFile.token, token)),
  };
}

/** Looks tokens up; those that come again, from memory. */
export class Targets {
  private readonly known = new QuickLRU<string, Target>({ maxSize: 20_000 });

  private readonly statements: Record<TokenKind, Compiled>;

  constructor(database: Database) {
    const { image, link: toLink, file } = targetQueries(database);
    this.statements = {
      image: compile(database, image),
      link: compile(database, toLink),
      file: compile(database, file),
    };
  }

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
