import { openPromise } from 'yauzl';

const MAX_ZIP_ENTRIES = 20_000;

/**
 * How much the entries of a ZIP archive say they unpack to, in bytes. What lies about it is stopped by the bounds of
 * whoever unpacks it.
 *
 * @param enough where counting may stop
 * @returns Infinity where it has more entries than any document; null where it cannot be read
 */
export async function unpackedSize(path: string, enough: number): Promise<number | null> {
  try {
    const archive = await openPromise(path, { lazyEntries: true });
    if (archive.entryCount > MAX_ZIP_ENTRIES) return Infinity;
    let size = 0;
    for await (const entry of archive.eachEntry()) {
      size += entry.uncompressedSize;
      if (size > enough) break;
    }
    return size;
  } catch {
    return null;
  }
}
