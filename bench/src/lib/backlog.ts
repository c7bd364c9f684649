import { setTimeout as pause } from 'node:timers/promises';
import Sqlite from 'better-sqlite3';
import { databaseFile, journalFolder, type Config } from '@kiraku/server/environment/config';
import { readFrames } from '@kiraku/server/journal/frames';
import { readSegment, runsOf } from '@kiraku/server/journal/journalFiles';

const PEEK_BYTES = 64 * 1024;

/** Resolves when all that the journal holds is applied, to how long that took, in milliseconds. */
export async function workedOff(config: Config): Promise<number> {
  const began = performance.now();
  while (isBehind(config)) await pause(10);
  return performance.now() - began;
}

/** Whether there is an entry that has not been applied. */
function isBehind(config: Config): boolean {
  const folder = journalFolder(config);
  const database = new Sqlite(databaseFile(config), { readonly: true });
  const positionOf = database.prepare<[string], { segment: number; offset: number }>(
    'select segment, offset from journal_position where run = ?',
  );
  const behind = runsOf(folder).some(({ name, segments }) => {
    const at = positionOf.get(name) ?? { segment: 0, offset: 0 };
    return segments.some((segment) => {
      if (segment < at.segment) return false;
      try {
        const bytes = readSegment(folder, name, segment, segment === at.segment ? at.offset : 0, PEEK_BYTES);
        return readFrames(bytes, false).frames.length > 0;
      } catch {
        // It has just been applied and removed.
        return true;
      }
    });
  });
  database.close();
  return behind;
}
