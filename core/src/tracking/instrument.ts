import { parse } from 'parse5';
import { elementsOf, type InstrumentPlan } from './links.js';

/** The addresses that one copy is instrumented with. */
export interface TrackingUrls {
  /** Address of the tracking image; null leaves it out. */
  imageUrl: string | null;
  /** The redirect for a link, by its position; null or undefined leaves the link as it was. */
  linkUrls: readonly (string | null | undefined)[];
}

/**
 * Puts tracking into a message: one image at the start of its body, and a redirect in place of each named link's
 * address. Every other character stays as it was.
 *
 * The addresses must be plain URLs without white space, quotes, `&`, `<` or `>`, so that they fit unquoted attributes
 * too; anything else throws a RangeError.
 */
export function instrument(plan: InstrumentPlan, trackingUrls: TrackingUrls): string {
  const pieces: string[] = [];
  let done = 0;
  const replace = (start: number, end: number, text: string) => {
    pieces.push(plan.html.slice(done, start), text);
    done = end;
  };
  let image = trackingUrls.imageUrl === null ? null : plan.imageOffset;
  const placeImage = () => {
    replace(image!, image!, imageTag(trackingUrls.imageUrl!));
    image = null;
  };
  for (const link of plan.links) {
    if (image !== null && image <= link.start) placeImage();
    const url = trackingUrls.linkUrls[link.position];
    if (url) replace(link.start, link.end, plain(url));
  }
  if (image !== null) placeImage();
  pieces.push(plan.html.slice(done));
  return pieces.join('');
}

/** What of a message is tracking of ours. */
export interface OwnTracking {
  /** Whether an image’s address is one. */
  isImage(src: string): boolean;
  /** What a link’s address stood for, as the attribute’s value is written in the source; undefined for all others. */
  originalOf(href: string): string | undefined;
}

/** The tracking of one instrumented message, for {@link removeInstrumenting}. */
export function trackingOf(plan: InstrumentPlan, { imageUrl, linkUrls }: TrackingUrls): OwnTracking {
  const originals = new Map(
    plan.links.flatMap((link) => {
      const url = linkUrls[link.position];
      return url ? [[url, plan.html.slice(link.start, link.end)] as const] : [];
    }),
  );
  return { isImage: (src) => src === imageUrl, originalOf: (href) => originals.get(href) };
}

/**
 * Takes tracking out of a message, also of one that was quoted or changed since, in one pass: removes the images, and puts
 * back what each redirect stood for. Of an unchanged instrumented message it gives the original exactly.
 *
 * @param readable the message as it is to be parsed, where that is not as it is written: of the same length
 */
export function removeInstrumenting(html: string, own: OwnTracking, readable = html): string {
  const cuts = new Map<number, { end: number; text: string }>();
  for (const element of elementsOf(parse(readable, { sourceCodeLocationInfo: true }))) {
    const location = element.sourceCodeLocation;
    if (!location) continue;
    const value = (name: string) => element.attrs.find((attr) => attr.name === name)?.value.trim() ?? '';
    if (element.tagName === 'img' && own.isImage(value('src'))) {
      cuts.set(location.startOffset, { end: location.endOffset, text: '' });
      continue;
    }
    const href = value('href');
    const place = location.attrs?.['href'];
    const original = href === '' || !place ? undefined : own.originalOf(href);
    if (original === undefined) continue;
    const start = readable.indexOf(href, place!.startOffset);
    if (start !== -1 && start < place!.endOffset) cuts.set(start, { end: start + href.length, text: original });
  }
  const pieces: string[] = [];
  let done = 0;
  for (const [start, { end, text }] of [...cuts].sort(([a], [b]) => a - b)) {
    pieces.push(html.slice(done, start), text);
    done = end;
  }
  return [...pieces, html.slice(done)].join('');
}

/** An image that nobody sees: as a block it makes no line of its own, and it is silent for screen readers. */
function imageTag(url: string): string {
  return `<img src="${plain(url)}" width="1" height="1" alt="" border="0" style="display:block">`;
}

function plain(url: string): string {
  if (!/^[^\s"'`=<>&]+$/.test(url)) throw new RangeError(`Not a plain URL: ${url}`);
  return url;
}
