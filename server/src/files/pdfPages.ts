import { join } from 'node:path';
import { getDocument, VerbosityLevel, type PDFDocumentLoadingTask } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { PDFJS } from './pdfFolder.js';

/** Begins to read a PDF (ISO 32000-2) that may be hostile or half broken. */
export function openPdf(data: Uint8Array): PDFDocumentLoadingTask {
  const folder = (name: string) => join(PDFJS, name, '/');
  return getDocument({
    data,
    verbosity: VerbosityLevel.ERRORS,
    isEvalSupported: false,
    stopAtErrors: false,
    standardFontDataUrl: folder('standard_fonts'),
    cMapUrl: folder('cmaps'),
    cMapPacked: true,
    wasmUrl: folder('wasm'),
    iccUrl: folder('iccs'),
  });
}

/**
 * How many pages a PDF has.
 *
 * @returns with the reason in words where it cannot be shown
 */
export async function pagesOfPdf(data: Uint8Array): Promise<{ pages: number | null; problem: string | null }> {
  const task = openPdf(data);
  try {
    const document = await task.promise;
    // A document may say that it has pages, and have none.
    await document.getPage(1);
    return { pages: document.numPages, problem: null };
  } catch (error) {
    const isLocked = error instanceof Error && error.name === 'PasswordException';
    const problem = isLocked ? 'It is locked with a password' : 'It is damaged, or it only begins like a PDF';
    return { pages: null, problem };
  } finally {
    await task.destroy();
  }
}
