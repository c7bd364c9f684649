import { parsePublicPath, type PublicTarget } from './paths.js';

/** A public path anywhere in a text, also within another address, whose slashes are escaped there. */
const PATHS = /(?:\/|%2F)([ilof])(?:\/|%2F)([\w-]{22})(\.gif)?(?![\w-])/gi;

/**
 * The public addresses of ours that a text quotes, by their paths alone: gateways and programs rewrite what stands before
 * them. Each once, in their order.
 *
 * @param max of very many no more than these
 */
export function ownTargetsIn(text: string, max: number): PublicTarget[] {
  const found = new Map<string, PublicTarget>();
  for (const [, kind, token, ending = ''] of text.matchAll(PATHS)) {
    if (found.size >= max) break;
    const target = parsePublicPath(`/${kind!.toLowerCase()}/${token}${ending}`);
    if (target) found.set(target.token, target);
  }
  return [...found.values()];
}
