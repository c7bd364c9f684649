import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { Config } from '../environment/config.js';

/** Lies in a data folder that was restored until the desk has done what follows from it. */
export const RESTORED_NAME = 'restored.json';

export interface RestoredNote {
  /** When it was restored, in epoch milliseconds. */
  at: number;
  /** Marks of who was erased after the backup was made. */
  erased: string[];
}

/** Undefined where the data folder was not restored, or what follows has been done. */
export function readRestored({ dataDir }: Pick<Config, 'dataDir'>): RestoredNote | undefined {
  const file = join(dataDir, RESTORED_NAME);
  return existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as RestoredNote) : undefined;
}

export function removeRestored({ dataDir }: Pick<Config, 'dataDir'>): void {
  rmSync(join(dataDir, RESTORED_NAME));
}
