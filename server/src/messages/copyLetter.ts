import { OPT_OUT_PLACE } from '@kiraku/core/message';
import type { LetterPlan, WebLink } from '@kiraku/core/tracking';

/** The threads of one copy. */
export interface CopyThreads {
  /** With angle brackets (RFC 5322, section 3.6.4). */
  messageIdHeader: string;
  imageUrl: string | null;
  /** By the link's position; null for a link that is left alone. */
  linkUrls: (string | null)[];
  /** Where its recipient can decline tracking; null where nothing is disclosed, or nothing tracked. */
  optOutUrl: string | null;
}

/** What all copies of a message share, and how one of them is made. */
export interface CopyLetter {
  /** The Message-ID that all copies have; null where each gets its own. */
  messageIdHeader: string | null;
  links: Pick<WebLink, 'position' | 'text' | 'url'>[];
  /** For each link, whether it is tracked. */
  tracked: boolean[];
  trackOpens: boolean;
  disclose: boolean;
  deliveryReceipt: boolean;
  /** The mail of one copy as it will leave. */
  make(threads: CopyThreads): Promise<Buffer>;
}

/** The redirects of a letter that discloses: the address to decline stands at the place that was kept for it. */
export function urlsWithOptOut(
  { links }: LetterPlan,
  linkUrls: (string | null)[],
  optOutUrl: string,
): (string | null)[] {
  const place = links.findLastIndex(({ url }) => url === OPT_OUT_PLACE);
  return [...linkUrls.slice(0, place), optOutUrl, ...linkUrls.slice(place)];
}
