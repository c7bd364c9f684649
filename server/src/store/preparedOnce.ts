import { sql, type Column, type SQL } from 'drizzle-orm';
import type { Database } from './database.js';

/**
 * A query that is asked again and again: built and prepared when it is first asked of a database. To build one anew takes
 * many times as long as to ask it.
 */
export function preparedOnce<Query>(prepare: (database: Database) => Query): (database: Database) => Query {
  const queries = new WeakMap<Database, Query>();
  return (database) => {
    const known = queries.get(database) ?? prepare(database);
    queries.set(database, known);
    return known;
  };
}

/**
 * A value of such a query that is given each time it is asked, under the name of its column. A null stays one: by itself, a
 * placeholder of a JSON column would write it as JSON.
 */
export function given(column: Column): SQL {
  const encode = (value: unknown) => (value === null ? null : column.mapToDriverValue(value));
  return sql`${sql.param(sql.placeholder(column.name), { mapToDriverValue: encode })}`;
}
