import type { FileVersion } from '@kiraku/core/contract';
import { fileWords } from '@kiraku/core/files';

const UNDERWAY: Partial<Record<FileVersion['preparation'], string>> = {
  checking: 'being looked at …',
  waiting: 'waits to be turned into pages …',
  converting: 'being turned into pages …',
};

/** “PDF, 2.1 MB, 12 pages”, or how far it is. */
export function fileStateWords(version: FileVersion): string {
  const underway = UNDERWAY[version.preparation];
  return underway === undefined ? fileWords(version) : `${fileWords(version)}; ${underway}`;
}

export function isUnderway({ preparation }: FileVersion): boolean {
  return preparation in UNDERWAY;
}

/** What looking only is worth. */
export const NO_LOCK = 'Without it there is no button for it; whoever can see a page can still keep it.';
