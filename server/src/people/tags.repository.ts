import { Inject, Injectable } from '@nestjs/common';
import { asc, count, eq, inArray } from 'drizzle-orm';
import type { TagView } from '@kiraku/core/contract';
import { cleanTags } from '@kiraku/core/people';
import { DATABASE, type Database } from '../store/database.js';
import { personTag } from '../store/schema.js';

/** The user’s own words for people. */
@Injectable()
export class TagsRepository {
  constructor(@Inject(DATABASE) private readonly database: Database) {}

  /** Every tag, by alphabet. */
  all(): TagView[] {
    return this.database
      .select({ tag: personTag.tag, people: count() })
      .from(personTag)
      .groupBy(personTag.tag)
      .orderBy(asc(personTag.tag))
      .all();
  }

  /** The tags of some people, by their numbers; who has none is not among them. */
  of(personIds: number[]): Map<number, string[]> {
    const rows = this.database
      .select()
      .from(personTag)
      .where(inArray(personTag.personId, personIds))
      .orderBy(asc(personTag.tag))
      .all();
    const tags = new Map<number, string[]>();
    for (const { personId, tag } of rows) tags.set(personId, [...(tags.get(personId) ?? []), tag]);
    return tags;
  }

  /** Gives a person these tags and no others, written as they are in use. */
  set(personId: number, tags: readonly string[]): void {
    this.replace(personId, this.spelled(tags));
  }

  /** Tags as they are written where they are in use; for as many people as there are, in one go. */
  spelled(tags: readonly string[]): string[] {
    const inUse = this.database.selectDistinct({ tag: personTag.tag }).from(personTag).all();
    return cleanTags(
      tags,
      inUse.map(({ tag }) => tag),
    );
  }

  /** The same for tags that are written as they are in use. */
  replace(personId: number, tags: readonly string[]): void {
    this.database.delete(personTag).where(eq(personTag.personId, personId)).run();
    if (tags.length > 0)
      this.database
        .insert(personTag)
        .values(tags.map((tag) => ({ personId, tag })))
        .run();
  }
}
