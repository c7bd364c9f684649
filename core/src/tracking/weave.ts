import { parse } from 'parse5';
import { elementsOf, type LetterPlan } from './links.js';

/** The addresses that one copy is woven with. */
export interface Threads {
  /** Address of the tracking image; null leaves it out. */
  imageUrl: string | null;
  /** The redirect for a link, by its position; null or undefined leaves the link as it was. */
  linkUrls: readonly (string | null | undefined)[];
}

/**
 * Weaves tracking into a letter: one image at the start of its body, and a redirect in place of each named link's
 * address. Every other character stays as it was.
 *
 * The addresses must be plain URLs without white space, quotes, `&`, `<` or `>`, so that they fit unquoted attributes
 * too; anything else throws a RangeError.
 */
export function weave(plan: LetterPlan, threads: Threads): string {
  const pieces: string[] = [];
  let done = 0;
  const replace = (start: number, end: number, text: string) => {
    pieces.push(plan.html.slice(done, start), text);
    done = end;
  };
  let image = threads.imageUrl === null ? null : plan.imageOffset;
  const placeImage = () => {
    replace(image!, image!, imageTag(threads.imageUrl!));
    image = null;
  };
  for (const link of plan.links) {
    if (image !== null && image <= link.start) placeImage();
    const url = threads.linkUrls[link.position];
    if (url) replace(link.start, link.end, plain(url));
  }
  if (image !== null) placeImage();
  pieces.push(plan.html.slice(done));
  return pieces.join('');
}

/** What a woven address stood for: the attribute's value as it was written in the source. */
export type Originals = ReadonlyMap<string, string>;

/** The originals of a woven letter, for {@link unweave}. */
export function originalsOf(plan: LetterPlan, threads: Threads): Originals {
  return new Map(
    plan.links.flatMap((link) => {
      const url = threads.linkUrls[link.position];
      return url ? [[url, plan.html.slice(link.start, link.end)] as const] : [];
    }),
  );
}

/**
 * Takes the tracking out again, also from a letter that was quoted or changed since: removes the image with that
 * address, and puts back what each redirect stood for. Of an unchanged woven letter it gives the original exactly.
 */
export function unweave(html: string, imageUrl: string | null, originals: Originals): string {
  const cuts: { start: number; end: number; text: string }[] = [];
  for (const element of elementsOf(parse(html, { sourceCodeLocationInfo: true }))) {
    const location = element.sourceCodeLocation;
    if (!location) continue;
    const value = (name: string) => element.attrs.find((attr) => attr.name === name)?.value;
    if (element.tagName === 'img' && imageUrl !== null && value('src') === imageUrl) {
      cuts.push({ start: location.startOffset, end: location.endOffset, text: '' });
      continue;
    }
    const href = value('href')?.trim();
    const original = href === undefined ? undefined : originals.get(href);
    const place = location.attrs?.['href'];
    if (href === undefined || original === undefined || !place) continue;
    const start = html.indexOf(href, place.startOffset);
    cuts.push({ start, end: start + href.length, text: original });
  }
  const unique = new Map(cuts.map((cut) => [cut.start, cut]));
  const pieces: string[] = [];
  let done = 0;
  for (const cut of [...unique.values()].sort((a, b) => a.start - b.start)) {
    pieces.push(html.slice(done, cut.start), cut.text);
    done = cut.end;
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
