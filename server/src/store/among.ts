import { sql, type Column, type Placeholder, type SQL } from 'drizzle-orm';

/**
 * A condition that holds of any number of numbers with one parameter, so that its statement can be prepared once.
 *
 * @param ids a JSON array
 */
export function isAmong(column: Column, ids: string | Placeholder): SQL {
  return sql`${column} in (select value from json_each(${ids}))`;
}
