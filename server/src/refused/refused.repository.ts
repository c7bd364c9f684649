import { Inject, Injectable } from '@nestjs/common';
import { desc, eq, getTableColumns, lte, sql } from 'drizzle-orm';
import type { RefusedMail, RefusedWay } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { refusedMail } from '../store/schema.js';

/** Older ones go where there are more. */
const MAX_KEPT = 200;

@Injectable()
export class RefusedRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  add(row: typeof refusedMail.$inferInsert): void {
    this.database.$client.transaction(() => {
      const { id } = this.database.insert(refusedMail).values(row).returning({ id: refusedMail.id }).get();
      this.database
        .delete(refusedMail)
        .where(lte(refusedMail.id, id - MAX_KEPT))
        .run();
    })();
  }

  /** The newest first. */
  list(way: RefusedWay): RefusedMail[] {
    const { raw, ...columns } = getTableColumns(refusedMail);
    return this.database
      .select({ ...columns, hasOriginal: sql`${raw} is not null`.mapWith(Boolean) })
      .from(refusedMail)
      .where(eq(refusedMail.way, way))
      .orderBy(desc(refusedMail.id))
      .all();
  }

  original(id: number): Buffer | null {
    return this.database.select().from(refusedMail).where(eq(refusedMail.id, id)).get()?.raw ?? null;
  }

  remove(id: number): boolean {
    return this.database.delete(refusedMail).where(eq(refusedMail.id, id)).run().changes === 1;
  }
}
