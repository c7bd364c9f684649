import { Inject, Injectable } from '@nestjs/common';
import { asc, count, eq, ne } from 'drizzle-orm';
import type { SavedView } from '@kiraku/core/contract';
import { DATABASE, type Database } from '../store/database.js';
import { savedView } from '../store/schema.js';

/** Filters of the list that were given a name. */
@Injectable()
export class SavedViewsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  all(): SavedView[] {
    return this.database.select().from(savedView).orderBy(asc(savedView.name)).all();
  }

  count(): number {
    return this.database.select({ n: count() }).from(savedView).get()!.n;
  }

  /** One that has the name already is replaced. */
  save(name: string, query: string): SavedView {
    return this.database
      .insert(savedView)
      .values({ name, query })
      .onConflictDoUpdate({ target: savedView.name, set: { query } })
      .returning()
      .get();
  }

  /** Makes a view the one that Sent begins with, instead of another; or not any more. False where there is none. */
  setStart(id: number, isStart: boolean): boolean {
    if (isStart) this.database.update(savedView).set({ isStart: false }).where(ne(savedView.id, id)).run();
    return this.database.update(savedView).set({ isStart }).where(eq(savedView.id, id)).run().changes === 1;
  }

  remove(id: number): boolean {
    return this.database.delete(savedView).where(eq(savedView.id, id)).run().changes === 1;
  }
}
