import { eq, sql } from 'drizzle-orm';
import { compile } from '../store/compile.js';
import type { Database } from '../store/database.js';
import { journalPosition } from '../store/schema.js';

/** Up to where a run of the journal has been applied. */
export interface Position {
  run: string;
  segment: number;
  /** Where the next frame begins. */
  offset: number;
  /** Of the last entry that was applied; 0 before the first. */
  sequence: number;
}

/** Somebody else applies the journal: nothing is wrong with its entries. */
export class PositionError extends Error {}

/** Keeps the positions in the database, so that they move in the transaction that applies an entry. */
export class Positions {
  private readonly statements;

  constructor(private readonly database: Database) {
    const value = sql.placeholder;
    const { segment, offset, sequence } = journalPosition;
    this.statements = {
      of: compile(
        database,
        database
          .select({ segment, offset, sequence })
          .from(journalPosition)
          .where(eq(journalPosition.run, value('run'))),
      ),
      move: compile(
        database,
        database
          .insert(journalPosition)
          .values({
            run: value('run'),
            segment: value('segment'),
            offset: value('offset'),
            sequence: value('sequence'),
          })
          .onConflictDoUpdate({
            target: journalPosition.run,
            set: {
              segment: sql`excluded.segment`,
              offset: sql`excluded.offset`,
              sequence: sql`excluded.sequence`,
            },
          }),
      ),
    };
  }

  /** Of a run that nothing was applied of, before its first segment. */
  of(run: string, firstSegment: number): Position {
    const [segment = firstSegment, offset = 0, sequence = 0] = (this.statements.of.first({ run }) ?? []) as number[];
    return { run, segment, offset, sequence };
  }

  /**
   * Moves on, within the transaction that applies what lies between.
   *
   * @throws PositionError where the position is not where it was left
   */
  move(from: Position, to: Position): void {
    const { run, segment, offset, sequence } = to;
    if (this.of(run, segment).sequence !== from.sequence)
      throw new PositionError(`Another process applies the journal ${run}`);
    this.statements.move.run({ run, segment, offset, sequence });
  }

  /** Forgets those of runs that are gone. */
  keepOnly(runs: readonly string[]): void {
    this.database
      .delete(journalPosition)
      .where(sql`${journalPosition.run} not in (select value from json_each(${JSON.stringify(runs)}))`)
      .run();
  }
}
