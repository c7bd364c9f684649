import { Inject, Injectable } from '@nestjs/common';
import { and, desc, eq, getTableColumns, isNull, lte, sql } from 'drizzle-orm';
import type { RefusedMail, RefusedWay } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { refusedMail } from '../store/schema.js';
import { UnitOfWork } from '../store/unitOfWork.js';

/** Older ones go where there are more. */
const MAX_REFUSED_MAILS = 200;

@Injectable()
export class RefusedRepository {
  constructor(
    @Inject(DATABASE) private readonly database: Database,
    private readonly unit: UnitOfWork,
  ) {}

  /** The same again, of which nothing is kept but that it came, is one: a server that is snoozed comes every few minutes. */
  add(row: typeof refusedMail.$inferInsert): void {
    this.unit.commit(() => {
      if (row.raw === null && this.renew(row)) return;
      const { id } = this.database.insert(refusedMail).values(row).returning({ id: refusedMail.id }).get();
      this.database
        .delete(refusedMail)
        .where(lte(refusedMail.id, id - MAX_REFUSED_MAILS))
        .run();
    });
  }

  private renew({ at, way, fromAddress, toAddress, problem }: typeof refusedMail.$inferInsert): boolean {
    const isSame = and(
      ...[eq(refusedMail.way, way), eq(refusedMail.problem, problem), isNull(refusedMail.raw)],
      ...[eq(refusedMail.fromAddress, fromAddress), eq(refusedMail.toAddress, toAddress)],
    );
    return this.database.update(refusedMail).set({ at }).where(isSame).run().changes > 0;
  }

  /** The newest first. */
  list(way: RefusedWay): RefusedMail[] {
    const { raw, ...columns } = getTableColumns(refusedMail);
    return this.database
      .select({ ...columns, hasOriginal: sql`${raw} is not null`.mapWith(Boolean) })
      .from(refusedMail)
      .where(eq(refusedMail.way, way))
      .orderBy(desc(refusedMail.at), desc(refusedMail.id))
      .all();
  }

  original(id: number): Buffer | null {
    return this.database.select().from(refusedMail).where(eq(refusedMail.id, id)).get()?.raw ?? null;
  }

  remove(id: number): boolean {
    return this.database.delete(refusedMail).where(eq(refusedMail.id, id)).run().changes === 1;
  }
}
