import { SECOND } from '@kiraku/core/time';
import { runBounded, type Bounds, type Place } from '../process/bounded.js';
import { programFile } from '../process/program.js';

/** What was found out about a file by its content. */
export interface Inspection {
  mediaType: string;
  /** How many pages it has; null where it has none, or they were not counted. */
  pages: number | null;
  /** Why it cannot be shown, in words; null where it may be. */
  problem: string | null;
}

const BOUNDS: Bounds = { timeMs: 30 * SECOND, memoryBytes: 1024 * 1024 * 1024, fileBytes: 0 };
const PROGRAM = programFile('inspector');
const UNREADABLE: Inspection = {
  mediaType: 'application/octet-stream',
  pages: null,
  problem: 'It could not be checked within the time and memory allowed for a file',
};

/** Looks at a file in a process of its own, which nothing in the file can bring this one down with. */
export async function inspect(path: string, place: Place): Promise<Inspection> {
  try {
    const output = await runBounded(process.execPath, ['--max-old-space-size=512', PROGRAM, path], BOUNDS, place);
    return JSON.parse(output) as Inspection;
  } catch {
    return UNREADABLE;
  }
}
