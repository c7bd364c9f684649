import { parse } from '../shared/editor/textOf.js';

/** A web link of a message as the editor has it. */
export interface EditedLink {
  url: string;
  words: string;
  tracked: boolean;
}

/** The web links of a message, in their order. */
export function linksOf(html: string): EditedLink[] {
  return anchorsOf(parse(html)).map((anchor) => ({
    url: anchor.href,
    words: anchor.textContent.replace(/\s+/g, ' ').trim(),
    tracked: anchor.dataset['track'] !== 'no',
  }));
}

/** The message with one link changed: its words, its address, or whether it is tracked. */
export function withLink(html: string, position: number, change: Partial<EditedLink>): string {
  const document = parse(html);
  const anchor = anchorsOf(document)[position];
  if (!anchor) return html;
  if (change.words !== undefined) anchor.textContent = change.words;
  if (change.url !== undefined) anchor.setAttribute('href', change.url);
  if (change.tracked === true) anchor.removeAttribute('data-track');
  if (change.tracked === false) anchor.setAttribute('data-track', 'no');
  return document.body.innerHTML;
}

function anchorsOf(document: Document): HTMLAnchorElement[] {
  return [...document.querySelectorAll<HTMLAnchorElement>('a[href]')].filter((anchor) =>
    /^https?:/i.test(anchor.protocol),
  );
}
