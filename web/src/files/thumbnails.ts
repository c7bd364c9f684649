import type { PDFDocumentProxy } from 'pdfjs-dist';
import { contentUrl } from './filesApi.js';

/** Of a page as it is drawn small, in pixels of the screen. */
const WIDTH = 96;

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
  const known = documents.get(versionId) ?? load(versionId);
  documents.set(versionId, known);
  return known;
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
