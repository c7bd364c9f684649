import legacyWorker from 'pdfjs-dist/legacy/build/pdf.worker.min.mjs?url';
import worker from 'pdfjs-dist/build/pdf.worker.min.mjs?url';

/** What shows pages: for browsers of these days, or for all others, with what those lack. */
interface Library {
  worker: string;
  load(): Promise<typeof import('pdfjs-dist')>;
  loadViewer(): Promise<typeof import('pdfjs-dist/web/pdf_viewer.mjs')>;
}

const TODAY: Library = {
  worker,
  load: () => import('pdfjs-dist'),
  loadViewer: () => import('pdfjs-dist/web/pdf_viewer.mjs'),
};

const OLDER: Library = {
  worker: legacyWorker,
  load: () => import('pdfjs-dist/legacy/build/pdf.mjs'),
  loadViewer: () => import('pdfjs-dist/legacy/web/pdf_viewer.mjs'),
};

/** The youngest of what the library wants of a browser (ECMAScript 2026 and before). */
const WANTED: [of: object, name: string][] = [
  [Map.prototype, 'getOrInsertComputed'],
  [Math, 'sumPrecise'],
  [Promise, 'try'],
  [RegExp, 'escape'],
  [Uint8Array, 'fromBase64'],
];

export const library = WANTED.every(([of, name]) => name in of) ? TODAY : OLDER;
