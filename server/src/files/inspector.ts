import { readFile, stat } from 'node:fs/promises';
import { fileTypeFromFile } from 'file-type';
import { kindOfType } from '@kiraku/core/files';
import type { Inspection } from './inspection.js';
import { pagesOfPdf } from './pdfPages.js';
import { unpackedSize } from './zip.js';

/* A program of its own: looks at a file that came from outside, and says what it is. Whatever it reads may be hostile. */

/** Larger documents are shown, but not counted. */
const MAX_INSPECTED_BYTES = 256 * 1024 * 1024;
/** No honest document unpacks to more. */
const MAX_UNPACKED_BYTES = 512 * 1024 * 1024;

process.stdout.write(JSON.stringify(await inspected(process.argv[2]!)));

async function inspected(path: string): Promise<Inspection> {
  const found = await fileTypeFromFile(path).catch(() => undefined);
  const mediaType = found?.mime ?? 'application/octet-stream';
  const plain = { mediaType, pages: null, problem: null };
  const kind = kindOfType(mediaType);
  if (kind === 'office' && !isRichText(mediaType)) return { ...plain, problem: await archiveProblem(path) };
  if (kind !== 'pages' || (await stat(path)).size > MAX_INSPECTED_BYTES) return plain;
  return { ...plain, ...(await pagesOfPdf(new Uint8Array(await readFile(path)))) };
}

/** All documents of offices are archives, save these. */
function isRichText(mediaType: string): boolean {
  return mediaType === 'application/rtf';
}

async function archiveProblem(path: string): Promise<string | null> {
  const size = await unpackedSize(path, MAX_UNPACKED_BYTES);
  if (size === null) return 'It is damaged';
  return size > MAX_UNPACKED_BYTES ? 'It unpacks to far more than a document needs, so it is not opened here' : null;
}
