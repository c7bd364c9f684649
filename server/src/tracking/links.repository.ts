import { Inject, Injectable } from '@nestjs/common';
import { asc, eq, gt, max } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { copyLink, link } from '../store/schema.js';

/** Where the links of all copies lead. */
@Injectable()
export class LinksRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Sorted by their tokens. */
  afterToken(token: string, limit: number) {
    return this.links().where(gt(copyLink.token, token)).orderBy(asc(copyLink.token)).limit(limit).all();
  }

  afterCopy(copyId: number) {
    return this.links().where(gt(copyLink.copyId, copyId)).all();
  }

  /** The newest copy with links; 0 where there is none. */
  lastCopyId(): number {
    return (
      this.database
        .select({ id: max(copyLink.copyId) })
        .from(copyLink)
        .get()?.id ?? 0
    );
  }

  private links() {
    return this.database
      .select({ token: copyLink.token, url: link.url })
      .from(copyLink)
      .innerJoin(link, eq(link.id, copyLink.linkId));
  }
}
