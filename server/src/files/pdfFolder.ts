import { createRequire } from 'node:module';
import { dirname } from 'node:path';

/** Where the PDF library keeps fonts that every reader has, character maps, and decoders of pictures. */
export const PDFJS = dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json'));
