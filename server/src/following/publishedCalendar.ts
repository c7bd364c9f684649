import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/*
 * The calendar as the public site shows it: a file that the desk writes, so that the one shows it without knowing what the
 * other does, also while that is away. It is named by a hash of the secret that its address ends with.
 */

const folderOf = (dataDir: string) => join(dataDir, 'calendar');
const nameOf = (key: string) => `${createHash('sha256').update(key).digest('hex')}.ics`;

/** Shows a calendar by this secret, and by no other. Nothing is written where the same is shown already. */
export function publishCalendar(dataDir: string, key: string, calendar: string): void {
  const [folder, name] = [folderOf(dataDir), nameOf(key)];
  if (withoutStamps(publishedCalendar(dataDir, key) ?? '') === withoutStamps(calendar)) return;
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const part = join(folder, 'part');
  writeFileSync(part, calendar, { mode: 0o600 });
  renameSync(part, join(folder, name));
  for (const other of readdirSync(folder)) if (other !== name) rmSync(join(folder, other));
}

/** Shows none. */
export function closeCalendar(dataDir: string): void {
  rmSync(folderOf(dataDir), { recursive: true, force: true });
}

/** The calendar for whoever knows a secret; null where there is none by it. */
export function publishedCalendar(dataDir: string, key: string): string | null {
  const file = join(folderOf(dataDir), nameOf(key));
  return existsSync(file) ? readFileSync(file, 'utf8') : null;
}

/** When it was written changes each time, and nothing else. */
function withoutStamps(calendar: string): string {
  return calendar.replace(/^DTSTAMP.*\r?\n/gm, '');
}
