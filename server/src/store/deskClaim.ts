import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import type { Config } from '../environment/config.js';
import { lockFile } from './fileLock.js';

type Folder = Pick<Config, 'dataDir'>;

const CLAIM_RETRY_MS = 25;

/** The files of a claim: the lock, which one process has at a time, and the number of that process. */
const claimFiles = ({ dataDir }: Folder) => ({ lock: join(dataDir, 'desk.lock'), pid: join(dataDir, 'desk.pid') });

/**
 * Claims a data folder for this process: two desks on one folder would send twice. The claim ends with the process, however
 * it ends.
 *
 * @returns what gives it up; null where another has it
 */
export function claimDesk(folder: Folder): (() => void) | null {
  const files = claimFiles(folder);
  const release = lockFile(files.lock);
  if (release) writeFileSync(files.pid, String(process.pid));
  return release;
}

/** Claims a data folder once nobody else has it. `meanwhile` is called at each attempt that failed. */
export async function claimDeskAfter(folder: Folder, meanwhile: () => void = () => undefined): Promise<() => void> {
  for (;;) {
    const release = claimDesk(folder);
    if (release) return release;
    meanwhile();
    await pause(CLAIM_RETRY_MS);
  }
}

/** The number of the process that has the data folder, where a claim has just failed; null where it has not said so yet. */
export function claimant(folder: Folder): number | null {
  try {
    return Number(readFileSync(claimFiles(folder).pid, 'utf8')) || null;
  } catch {
    return null;
  }
}
