import Sqlite from 'better-sqlite3';
import { databaseFile, type Config } from '../environment/config.js';
import type { Erasure } from '../people/erasures.repository.js';

/** As many pages as there can be: in several steps the copy would begin anew whenever the desk writes. */
const ALL_PAGES = 2 ** 31 - 1;
/** What one would miss, and in which table it is. */
const COUNTED = { messages: 'message', copies: 'copy', events: 'event', people: 'person', files: 'file' } as const;

/** How many there are of what one would miss. */
export type Counts = Record<keyof typeof COUNTED, number>;

/** Copies the database of a data folder as it is at one moment, while others read and write it, into one file. */
export async function copyDatabase({ dataDir }: Pick<Config, 'dataDir'>, file: string): Promise<void> {
  const source = new Sqlite(databaseFile({ dataDir }), { readonly: true, fileMustExist: true });
  await source.backup(file, { progress: () => ALL_PAGES }).finally(() => source.close());
}

/** What a copied database has, which nobody uses meanwhile. */
export class CopiedDatabase {
  private constructor(private readonly client: Sqlite.Database) {}

  /**
   * Runs some work on a copy.
   *
   * @throws where the copy is damaged
   */
  static read<T>(file: string, work: (copy: CopiedDatabase) => T): T {
    const client = new Sqlite(file, { fileMustExist: true });
    try {
      // One file, with nothing beside it.
      client.pragma('journal_mode = delete');
      const found = client.pragma('integrity_check', { simple: true });
      if (found !== 'ok') throw new Error(`The database is damaged: ${String(found)}.`);
      return work(new CopiedDatabase(client));
    } finally {
      client.close();
    }
  }

  counts(): Counts {
    const count = (table: string) => this.client.prepare(`select count(*) from ${table}`).pluck().get();
    return Object.fromEntries(Object.entries(COUNTED).map(([name, table]) => [name, count(table)])) as Counts;
  }

  erasures(): Erasure[] {
    return this.client.prepare<[], Erasure>('select mark, at from erasure').all();
  }
}
