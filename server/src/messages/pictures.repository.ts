import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { inArray } from 'drizzle-orm';
import { DATABASE, type Database } from '../store/database.js';
import { picture } from '../store/schema.js';

export type Picture = Pick<typeof picture.$inferSelect, 'id' | 'mediaType' | 'bytes'>;

/** Inline pictures, each kept once however many messages show it. */
@Injectable()
export class PicturesRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Keeps a picture. Returns its id. */
  add(mediaType: string, bytes: Buffer, now: number): string {
    const id = createHash('sha256').update(bytes).digest('hex');
    this.database.insert(picture).values({ id, mediaType, bytes, createdAt: now }).onConflictDoNothing().run();
    return id;
  }

  find(ids: string[]): Picture[] {
    return this.database.select().from(picture).where(inArray(picture.id, ids)).all();
  }
}
