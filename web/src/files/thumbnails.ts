import type { PDFDocumentProxy } from 'pdfjs-dist';
import { contentUrl } from '../shared/api/filesApi.js';

/** Of a page as it is drawn small, in pixels of the screen. */
const WIDTH = 96;

/** Documents that stay loaded: those of the page that is shown, mostly. */
const MAX_CACHED_THUMBNAILS = 4;

const documents = new Map<number, Promise<PDFDocumentProxy>>();

/** Draws a page of a version small. Its document is loaded once, and only the parts that are drawn. */
export async function drawThumbnail(canvas: HTMLCanvasElement, versionId: number, page: number): Promise<void> {
  const pdf = await documentOf(versionId);
  const drawn = await pdf.getPage(page);
  const { width } = drawn.getViewport({ scale: 1 });
  const viewport = drawn.getViewport({ scale: (WIDTH * devicePixelRatio) / width });
  canvas.width = Math.floor(viewport.width);
  canvas.height = Math.floor(viewport.height);
  await drawn.render({ canvas, viewport }).promise;
}

function documentOf(versionId: number): Promise<PDFDocumentProxy> {
  const known = documents.get(versionId);
  if (known) return known;
  const loading = load(versionId);
  documents.set(versionId, loading);
  loading.catch(() => documents.delete(versionId));
  const [oldest, ...others] = documents.keys();
  if (others.length >= MAX_CACHED_THUMBNAILS) letGo(oldest!);
  return loading;
}

function letGo(versionId: number): void {
  void documents.get(versionId)?.then((pdf) => pdf.loadingTask.destroy());
  documents.delete(versionId);
}

async function load(versionId: number): Promise<PDFDocumentProxy> {
  const [pdfjs, { default: worker }] = await Promise.all([
    import('pdfjs-dist/legacy/build/pdf.mjs'),
    import('pdfjs-dist/legacy/build/pdf.worker.min.mjs?url'),
  ]);
  pdfjs.GlobalWorkerOptions.workerSrc = worker;
  const task = pdfjs.getDocument({
    url: contentUrl(versionId),
    disableAutoFetch: true,
    disableStream: true,
    isEvalSupported: false,
  });
  return task.promise as Promise<PDFDocumentProxy>;
}
