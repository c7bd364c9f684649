import { parse, parseFragment, type DefaultTreeAdapterTypes as Tree } from 'parse5';

/** A web link of a message, and where the value of its address stands in the source. */
export interface WebLink {
  /** Order in the message, from 0. */
  position: number;
  /** The absolute address it leads to, resolved against `<base>` where there is one. */
  url: string;
  /** The words to press, white space folded; an image's alternative text where there are no words. */
  text: string;
  /** Whether the writer wants this one left alone: `data-track="no"`. */
  leftAlone: boolean;
  /** Offsets of the attribute's value in the source, without its quotes. */
  start: number;
  end: number;
}

/** What instrumenting has to know of a message: parsed once, used for each copy. */
export interface InstrumentPlan {
  html: string;
  links: WebLink[];
  /** Where the tracking image goes; null where there is no body to read (framesets, nothing at all). */
  imageOffset: number | null;
}

const LINK_TAGS = new Set(['a', 'area']);

/**
 * Finds the web links of a message and the place for its tracking image.
 *
 * The document is parsed by the rules of the HTML standard with source offsets, so that the instrumenting can replace
 * single attribute values and leave every other character as it was. Links that are not for the web (`mailto:`,
 * `tel:`, `cid:`, `data:`, `javascript:`, `#…`, relative ones without a base) are not listed.
 *
 * @param readHref what the value of an address says, from how it is written, where the parser cannot know it
 */
export function planInstrumenting(html: string, readHref?: (written: string) => string): InstrumentPlan {
  const document = parse(html, { sourceCodeLocationInfo: true });
  const elements = [...elementsOf(document)];
  const read = (element: Tree.Element) => hrefOf(element, html, readHref);
  const base = baseOf(elements, read);
  const byStart = new Map<number, Omit<WebLink, 'position'>>();
  for (const element of elements) {
    const link = webLinkOf(element, read(element), base);
    // A mis-nested <a> is cloned by the parser: the clones share one place in the source, and are one link.
    if (link && !byStart.has(link.start)) byStart.set(link.start, link);
  }
  const links = [...byStart.values()]
    .sort((a, b) => a.start - b.start)
    .map((link, position) => ({ position, ...link }));
  return { html, links, imageOffset: imageOffsetOf(document, html) };
}

interface Href {
  value: string;
  /** Status in the source. */
  range: { start: number; end: number };
}

function hrefOf(element: Tree.Element, html: string, read?: (written: string) => string): Href | null {
  const location = element.sourceCodeLocation?.attrs?.['href'];
  const parsed = attribute(element, 'href');
  const range = location && attributeValueRange(html, location.startOffset, location.endOffset);
  if (!range || parsed === undefined) return null;
  return { value: read ? read(html.slice(range.start, range.end)) : parsed, range };
}

function webLinkOf(
  element: Tree.Element,
  href: Href | null,
  base: string | undefined,
): Omit<WebLink, 'position'> | null {
  if (!LINK_TAGS.has(element.tagName) || element.namespaceURI !== HTML_NAMESPACE || href === null) return null;
  const url = webUrl(href.value, base);
  if (url === null) return null;
  const { range: value } = href;
  return { url, text: wordsOf(element), leftAlone: attribute(element, 'data-track') === 'no', ...value };
}

/** What the value of an attribute says, from how it is written without its quotes (HTML, section 13.2.5.36). */
export function attributeValue(written: string): string {
  if (!written.includes('&')) return written;
  const [element] = parseFragment(`<a href="${written.replace(/"/g, '&quot;')}">`).childNodes.filter(isElement);
  return (element && attribute(element, 'href')) ?? written;
}

/** The absolute http(s) address that a browser would go to, or null. */
function webUrl(href: string, base: string | undefined): string | null {
  const trimmed = href.trim();
  if (trimmed === '' || trimmed.startsWith('#')) return null;
  try {
    const url = new URL(trimmed, base);
    if (url.protocol !== 'http:' && url.protocol !== 'https:') return null;
    return url.href;
  } catch {
    return null;
  }
}

/** The place of the value within `name="value"`, `name='value'` or `name=value`; null where there is no value. */
function attributeValueRange(html: string, start: number, end: number): { start: number; end: number } | null {
  const equals = html.indexOf('=', start);
  if (equals === -1 || equals >= end) return null;
  let from = equals + 1;
  while (from < end && /\s/.test(html[from]!)) from += 1;
  const quote = html[from];
  if (quote !== '"' && quote !== "'") return { start: from, end };
  return { start: from + 1, end: html[end - 1] === quote && end - 1 > from ? end - 1 : end };
}

/**
 * The start of the body. A mail host that cuts long messages off keeps the beginning, so an image at the end would
 * be lost with what it cuts.
 */
function imageOffsetOf(document: Tree.Document, html: string): number | null {
  const root = document.childNodes.find(isElement);
  const body = root?.childNodes.filter(isElement).find((element) => element.tagName === 'body');
  if (!body) return null;
  const contentStarts = body.childNodes.flatMap((node) => node.sourceCodeLocation?.startOffset ?? []);
  const afterTag = body.sourceCodeLocation?.startTag?.endOffset;
  const first = Math.min(...contentStarts, afterTag ?? Infinity);
  if (!Number.isFinite(first)) return null;
  // The parser places a text that begins with a character reference at the reference's end.
  const reference = /&#?[0-9a-z]*$/i.exec(html.slice(Math.max(0, first - 40), first));
  return first - (reference?.[0].length ?? 0);
}

function baseOf(elements: Tree.Element[], read: (element: Tree.Element) => Href | null): string | undefined {
  const base = elements.find((element) => element.tagName === 'base' && attribute(element, 'href') !== undefined);
  const href = base && read(base);
  return href ? (webUrl(href.value, undefined) ?? undefined) : undefined;
}

/** The visible words of a link: its text, else what describes its picture. */
function wordsOf(element: Tree.Element): string {
  const text = textOf(element).replace(/\s+/g, ' ').trim();
  if (text !== '') return text;
  const described = [element, ...elementsOf(element)].map((part) => attribute(part, 'alt') ?? attribute(part, 'title'));
  return described.find((words) => words !== undefined && words.trim() !== '')?.trim() ?? '';
}

function textOf(node: Tree.ParentNode): string {
  return node.childNodes
    .map((child) =>
      child.nodeName === '#text' ? (child as Tree.TextNode).value : 'childNodes' in child ? textOf(child) : '',
    )
    .join('');
}

/** Every element in document order, without recursion: mail is nested deeper than a call stack likes. */
export function* elementsOf(root: Tree.ParentNode): Generator<Tree.Element> {
  const waiting: Tree.ChildNode[] = [...root.childNodes].reverse();
  for (let node = waiting.pop(); node; node = waiting.pop()) {
    if (!isElement(node)) continue;
    yield node;
    for (let i = node.childNodes.length - 1; i >= 0; i -= 1) waiting.push(node.childNodes[i]!);
  }
}

function isElement(node: Tree.Node): node is Tree.Element {
  return 'tagName' in node;
}

function attribute(element: Tree.Element, name: string): string | undefined {
  return element.attrs.find((attr) => attr.name === name && !attr.prefix)?.value;
}

const HTML_NAMESPACE = 'http://www.w3.org/1999/xhtml';
