import Sqlite from 'better-sqlite3';

/** What holds the locks: a database that nobody refers to any more is closed when memory is cleared. */
const held = new Set<Sqlite.Database>();

/**
 * Locks a file, made where there is none, for this process alone: the lock is SQLite’s, on a database with nothing in it, and
 * the system lets go of it when the process ends, however it ends.
 *
 * @returns what lets go of it; null where another has it
 */
export function lockFile(file: string): (() => void) | null {
  const database = new Sqlite(file, { timeout: 0 });
  try {
    // It has nothing to undo, and needs no file for it.
    database.pragma('journal_mode = memory');
    database.exec('begin exclusive');
    held.add(database);
    return () => {
      held.delete(database);
      database.close();
    };
  } catch (error) {
    database.close();
    if ((error as { code?: string }).code === 'SQLITE_BUSY') return null;
    throw error;
  }
}
