import { and, sql, type SQL } from 'drizzle-orm';
import type { ListFilter } from '@kiraku/core/contract';
import { isAmong } from '../store/among.js';
import type { Database } from '../store/database.js';
import { isListed } from '../store/listed.js';
import { message } from '../store/schema.js';
import { isInFolder, narrowingsOf, type Narrowing } from './narrowings.repository.js';

/** So many messages, found by an index, are looked at one by one; where there are more, the list is gone through. */
export const MAX_FEW = 20_000;

/** All that the list is narrowed and sorted by. */
export const WIDE_INDEX = 'message_list';

/** The messages that are named, and no index that SQLite might think better. */
export const byNumber = sql`${message} not indexed`;

/** Of what the list is made: from where it is read, and which of it. */
export interface Source {
  from: SQL;
  where: SQL;
}

/**
 * From where the messages of a filter are read. A filter that leaves few is looked up in its own index; of all others the
 * list’s wide index is gone through.
 *
 * @param index what is read where nothing narrows the list
 * @param maxFew so many, found by an index, are looked at one by one
 */
export function sourceOf(database: Database, filter: ListFilter, now: number, index: string, maxFew = MAX_FEW): Source {
  const narrowings = narrowingsOf(filter, now);
  if (narrowings.length === 0) return { from: indexedBy(index), where: conditionsOf(filter, []) };
  for (const narrowing of narrowings) {
    const few = narrowing.numbers && fewOf(database, narrowing.numbers, maxFew);
    if (!few) continue;
    const rest = narrowings.filter((other) => other !== narrowing);
    return { from: byNumber, where: and(isNamed(few), conditionsOf(filter, rest))! };
  }
  const wide = narrowings.find(({ wideIndex }) => wideIndex)?.wideIndex ?? WIDE_INDEX;
  return { from: indexedBy(wide), where: conditionsOf(filter, narrowings) };
}

/** Numbers of messages, where they are few. */
function fewOf(database: Database, numbers: SQL, maxFew: number): number[] | undefined {
  const rows = database.values<[number]>(sql`select * from (${numbers}) limit ${maxFew + 1}`);
  return rows.length > maxFew ? undefined : rows.map(([id]) => id);
}

function indexedBy(index: string): SQL {
  return sql`${message} indexed by ${sql.raw(index)}`;
}

export function isNamed(ids: readonly number[]): SQL {
  return isAmong(message.id, JSON.stringify(ids));
}

/** The conditions of the list that a filter means, and of what narrows it. */
export function conditionsOf({ archived }: ListFilter, narrowings: readonly Narrowing[]): SQL {
  return and(isListed, isInFolder(archived), ...narrowings.map(({ where }) => where))!;
}
