import { PDFDataRangeTransport } from 'pdfjs-dist/legacy/build/pdf.mjs';

/** Only what is looked at is fetched, in pieces of so many bytes. */
export const PIECE = 256 * 1024;

/** After a piece that did not arrive. */
const RANGE_RETRY_MS = 2000;

/** Fetches a document in pieces (RFC 9110, section 14), as they are asked for; its length is known before. */
export function rangesOf(url: string, length: number): PDFDataRangeTransport {
  const ranges = new PDFDataRangeTransport(length, null);
  ranges.requestDataRange = (begin: number, end: number) => {
    fetch(url, { headers: { range: `bytes=${begin}-${end - 1}` } })
      .then(async (response) => {
        if (response.status !== 206) throw new Error(String(response.status));
        ranges.onDataRange(begin, new Uint8Array(await response.arrayBuffer()));
      })
      .catch(() => setTimeout(() => ranges.requestDataRange(begin, end), RANGE_RETRY_MS));
  };
  return ranges;
}
