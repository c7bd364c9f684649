import { Inject, Injectable } from '@nestjs/common';
import { eq } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { pushDevice } from '../store/schema.js';

export type PushDeviceRow = typeof pushDevice.$inferSelect;

@Injectable()
export class PushRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  all(): PushDeviceRow[] {
    return this.database.select().from(pushDevice).orderBy(pushDevice.id).all();
  }

  /** The same browser again brings new keys. */
  save(row: Omit<PushDeviceRow, 'id' | 'notifiedAt'>): number {
    const { endpoint: _endpoint, ...set } = row;
    return this.database
      .insert(pushDevice)
      .values(row)
      .onConflictDoUpdate({ target: pushDevice.endpoint, set })
      .returning({ id: pushDevice.id })
      .get().id;
  }

  notified(id: number, now: number): void {
    this.database.update(pushDevice).set({ notifiedAt: now }).where(eq(pushDevice.id, id)).run();
  }

  remove(id: number): boolean {
    return this.database.delete(pushDevice).where(eq(pushDevice.id, id)).run().changes === 1;
  }
}
