import { rm } from 'node:fs/promises';
import { SECOND } from '@kiraku/core/time';
import { runBounded, type Bounds, type Place } from '../process/bounded.js';
import { programFile } from '../process/program.js';
import type { ContentStore } from './contentStore.js';

const BOUNDS: Bounds = {
  timeMs: 20 * SECOND,
  memoryBytes: 1024 * 1024 * 1024,
  fileBytes: 4 * 1024 * 1024,
};
const PROGRAM = programFile('painter');

/**
 * Keeps a picture of a document’s first page, which is there before what shows the pages is. Drawn in a process of its
 * own, as whatever is in the document may be hostile.
 *
 * @param pdf the path of the document
 * @returns the picture’s SHA-256; null where none could be made, which costs its reader a moment and nothing else
 */
export async function keepFirstPage(pdf: string, store: ContentStore, place: Place): Promise<string | null> {
  const picture = store.scratch();
  try {
    await runBounded(process.execPath, ['--max-old-space-size=512', PROGRAM, pdf, picture], BOUNDS, place);
    return (await store.keep(picture)).sha256;
  } catch {
    await rm(picture, { force: true });
    return null;
  }
}
