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
