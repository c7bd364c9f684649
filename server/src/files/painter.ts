import { readFile, writeFile } from 'node:fs/promises';
import { openPdf } from './pdfPages.js';

/* A program of its own: draws the first page of a PDF into a file. Whatever it reads may be hostile. */

/** Of a page’s points: as large as the viewer shows it where there is room. */
const SCALE = (96 / 72) * 1.25;
/** A page may say that it is a mile wide. */
const MAX_PIXELS = 4_000_000;
const QUALITY = 80;

interface CanvasFactory {
  create(width: number, height: number): { canvas: { encode(format: 'webp', quality: number): Promise<Buffer> } };
}

const [pdf, picture] = process.argv.slice(2);
await writeFile(picture!, await paint(new Uint8Array(await readFile(pdf!))));
// The library may leave something open.
process.exit(0);

async function paint(data: Uint8Array): Promise<Buffer> {
  const document = await openPdf(data).promise;
  const page = await document.getPage(1);
  const { width, height } = page.getViewport({ scale: SCALE });
  const scale = SCALE * Math.min(1, Math.sqrt(MAX_PIXELS / (width * height)));
  const viewport = page.getViewport({ scale });
  // In Node the library draws with a canvas of its own, which can be written as a picture.
  const factory = document.canvasFactory as CanvasFactory;
  const { canvas } = factory.create(Math.ceil(viewport.width), Math.ceil(viewport.height));
  await page.render({ canvas, viewport }).promise;
  return canvas.encode('webp', QUALITY);
}
