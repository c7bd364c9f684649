import { mkdirSync, watch } from 'node:fs';
import { isSegment } from './journalFiles.js';

/**
 * Calls back when something was written to a journal, as far as the system can say so: some watch only so many folders.
 * Whoever must miss nothing looks now and then.
 *
 * @param folder made where there is none
 * @returns what ends it
 */
export function watchJournal(folder: string, written: () => void): () => void {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  try {
    const watching = watch(folder, (_, file) => (file === null || isSegment(file)) && written());
    watching.on('error', () => undefined);
    return () => watching.close();
  } catch {
    return () => undefined;
  }
}
