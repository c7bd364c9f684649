import { chmodSync, existsSync, statSync } from 'node:fs';

/**
 * Sees to it that nobody but the owner of this process reads what lies in the data folder: mail, addresses, keys. What is
 * written from now on is for its owner alone.
 *
 * @returns what was mended, in words for the log; null where nothing had to be
 */
export function keepPrivate(dataDir: string): string | null {
  process.umask(0o077);
  if (!existsSync(dataDir)) return null;
  const mode = statSync(dataDir).mode & 0o777;
  if ((mode & 0o077) === 0) return null;
  try {
    chmodSync(dataDir, 0o700);
    return `Others on this machine could read ${dataDir}. Now only you can.`;
  } catch {
    return `Others on this machine can read ${dataDir}, and it belongs to somebody else. Make it yours, or run Kiraku as its owner.`;
  }
}
