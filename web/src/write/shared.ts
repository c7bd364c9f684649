/** Where `web/worker/serviceWorker.ts` keeps what another program has shared. */
const CACHE = 'kiraku.shared';

/**
 * Takes the files that another program has shared with Kiraku; they are given once.
 *
 * @returns without what has been taken meanwhile, by another window say
 */
export async function takeShared(): Promise<File[]> {
  if (!('caches' in window)) return [];
  const cache = await caches.open(CACHE);
  const files: File[] = [];
  for (const key of await cache.keys()) {
    const response = await cache.match(key);
    await cache.delete(key);
    const name = decodeURIComponent(response?.headers.get('x-name') ?? 'file');
    if (response)
      files.push(new File([await response.blob()], name, { type: response.headers.get('content-type') ?? '' }));
  }
  return files;
}
