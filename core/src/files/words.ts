import type { FileReading } from '../contract/file.js';
import { capital, counted, SECOND } from '../time/words.js';
import { REPORT_EVERY_MS } from './limits.js';
import { readMs } from './pages.js';

/** Windows tell of what is read every few seconds: after so long without a word, it is not read any more. */
const STILL_MS = 3 * REPORT_EVERY_MS;

/** “42 s”, “3 min 5 s”: short, since it stands under small pages. */
export function secondsWords(ms: number): string {
  const seconds = Math.round(ms / SECOND);
  if (seconds < 60) return `${seconds} s`;
  const rest = seconds % 60;
  return `${Math.floor(seconds / 60)} min${rest === 0 ? '' : ` ${rest} s`}`;
}

/** The page that is being read this moment; null where none is. */
export function pageNow({ visits, lastAt, counted: counts }: FileReading, now: number): number | null {
  return counts && now - lastAt < STILL_MS ? (visits.at(-1)?.page ?? null) : null;
}

/** “Is on page 3 now”, “Read 4 of 12 pages, for 3 min”, “Had it before them for 41 s”, “Opened it, downloaded it”. */
export function readingWords(reading: FileReading, pages: number | null, now: number): string {
  const { visits, downloads } = reading;
  const ms = readMs(reading);
  const along = downloads > 0 ? [downloads === 1 ? 'downloaded it' : `downloaded it ${downloads} times`] : [];
  const onPage = pageNow(reading, now);
  if (visits.length === 0) return listed(['opened it', ...along]);
  if (pages === null) return listed([`had it before them for ${secondsWords(ms)}`, ...along]);
  const seen = new Set(visits.map(({ page }) => page)).size;
  const read = `read ${seen === pages ? `all ${counted(pages, 'page')}` : `${seen} of ${counted(pages, 'page')}`}, for ${secondsWords(ms)}`;
  return listed([...(onPage === null ? [] : [`is on page ${onPage} now`]), read, ...along]);
}

function listed(parts: string[]): string {
  return capital(parts.join(', '));
}
