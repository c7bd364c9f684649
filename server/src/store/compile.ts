import type Sqlite from 'better-sqlite3';
import { is, Param, Placeholder, type Query } from 'drizzle-orm';
import type { Database } from './database.js';

type Value = string | number | null;
type Values = Record<string, Value>;

/** A statement of the hot path: built by Drizzle once, then run by the driver without anything in between. */
export interface Compiled {
  run(values: Values): void;
  /** Runs an insertion. Returns the new row’s id. */
  insert(values: Values): number;
  /** The columns of the first row, in the order of the selection. */
  first(values: Values): Value[] | undefined;
  all(values: Values): Value[][];
}

/**
 * Compiles a query with `sql.placeholder`s when it is first run: a start waits for none that nobody needs yet. Values go to
 * the driver as they are (a boolean as 0 or 1), and rows come back as arrays: that takes a third of the time of the query
 * builder's own preparation.
 */
export function compile(database: Database, query: { toSQL(): Query }): Compiled {
  let prepared: ReturnType<typeof prepare> | undefined;
  const ready = () => (prepared ??= prepare(database, query));
  const run = (values: Values) => {
    const { statement, bind } = ready();
    return statement.run(...bind(values));
  };
  return {
    run,
    insert: (values) => Number(run(values).lastInsertRowid),
    first: (values) => {
      const { statement, bind } = ready();
      return statement.get(...bind(values));
    },
    all: (values) => {
      const { statement, bind } = ready();
      return statement.all(...bind(values));
    },
  };
}

/** The statement, and what it is run with. */
function prepare(database: Database, query: { toSQL(): Query }) {
  const { sql, params } = query.toSQL();
  const statement: Sqlite.Statement<Value[], Value[]> = database.$client.prepare(sql);
  if (statement.reader) statement.raw(true);
  const readers = params.map((param): ((values: Values) => Value) => {
    const placeholder = is(param, Param) ? param.value : param;
    if (!is(placeholder, Placeholder)) {
      const constant = typeof placeholder === 'boolean' ? Number(placeholder) : (placeholder as Value);
      return () => constant;
    }
    const { name } = placeholder;
    return (values) => values[name] ?? null;
  });
  return { statement, bind: (values: Values) => readers.map((read) => read(values)) };
}
