import { PositionError } from './positions.repository.js';

/** Whether applying an entry would fail again and again: not for a full disk, a lock, or another who applies it. */
export function isFaultOfEntry(error: unknown): boolean {
  if (error instanceof PositionError) return false;
  const { code } = error as { code?: unknown };
  return typeof code !== 'string' || !code.startsWith('SQLITE_') || /^SQLITE_(CONSTRAINT|MISMATCH|RANGE)/.test(code);
}
