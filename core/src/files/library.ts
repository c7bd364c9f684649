import type { FileView } from '../contract/file.js';

/** By what the library is sorted. */
export const FILE_ORDERS = ['added', 'name', 'sent', 'viewed'] as const;
export type FileOrder = (typeof FILE_ORDERS)[number];

const COMPARE: Record<FileOrder, (a: FileView, b: FileView) => number> = {
  added: (a, b) => b.addedAt - a.addedAt,
  name: (a, b) => a.name.localeCompare(b.name),
  sent: (a, b) => b.messages - a.messages,
  viewed: (a, b) => (b.lastViewAt ?? 0) - (a.lastViewAt ?? 0),
};

/** The files whose names contain all of some words, whatever their case, sorted; of equals the newest first. */
export function foundFiles(files: readonly FileView[], words: string, order: FileOrder): FileView[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  return files
    .filter(({ name }) => wanted.every((word) => name.toLowerCase().includes(word)))
    .sort((a, b) => COMPARE[order](a, b) || COMPARE.added(a, b));
}
