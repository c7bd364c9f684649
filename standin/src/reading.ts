import { parse, serialize, type DefaultTreeAdapterTypes as Tree } from 'parse5';
import { networkOfMailbox, type ReadingProgram } from './programs.js';

/** What a mail's HTML would load and lead to, in the order of the document. */
export interface Contents {
  images: string[];
  links: string[];
}

export function contentsOf(html: string): Contents {
  const images: string[] = [];
  const links: string[] = [];
  eachElement(parse(html), (element) => {
    const url = addressOf(element);
    if (url) (element.tagName === 'img' ? images : links).push(url);
  });
  return { images, links };
}

/**
 * The mail as a reading program shows it in the browser: each image and link leads to the stand-in itself, which
 * fetches the true address in the program's name, since a page cannot choose what its browser says of itself.
 *
 * @param place where the mail's images and links are answered, without a slash at the end
 */
export function shownMail(html: string, place: string, program: ReadingProgram): string {
  const document = parse(html);
  const next = { image: 0, link: 0 };
  eachElement(document, (element) => {
    if (!addressOf(element)) return;
    const kind = element.tagName === 'img' ? 'image' : 'link';
    const number = next[kind]++;
    if (kind === 'image' && !program.loadsImages) return setAttribute(element, 'src', 'data:,');
    setAttribute(element, kind === 'image' ? 'src' : 'href', `${place}/${kind}/${number}?program=${program.id}`);
    if (kind === 'link') setAttribute(element, 'target', '_blank');
  });
  return serialize(document);
}

/** Where a link led: on to another address, to a page of its own, or to nothing that can be read (0: no answer). */
export type Followed = { location: string } | { status: number };

/** Who looks at a mail: a program, at the place of a mailbox. */
export interface ReaderSetup {
  program: ReadingProgram;
  mailbox: string;
}

/** Fetches an image in a program's name. */
export async function fetchImage(
  url: string,
  { program, mailbox }: ReaderSetup,
): Promise<{ type: string; bytes: Buffer } | null> {
  const from = program.network ?? networkOfMailbox(mailbox);
  const response = await fetchAs(url, program.userAgent, from).catch(() => null);
  if (!response?.ok) return null;
  return {
    type: response.headers.get('content-type') ?? 'application/octet-stream',
    bytes: Buffer.from(await response.arrayBuffer()),
  };
}

/** Opens a link in the browser that belongs to a program, as far as its first answer. */
export async function followLink(url: string, { program, mailbox }: ReaderSetup): Promise<Followed> {
  // RFC 2606: nobody replies to there; the page shows what stands in for it.
  if (new URL(url).hostname.endsWith('.example')) return { location: url };
  // A page that runs in the browser is looked at once, by the browser itself.
  if (isFilePage(url)) return { location: url };
  const from = program.browserNetwork ?? networkOfMailbox(mailbox);
  const response = await fetchAs(url, program.browserAgent, from).catch(() => null);
  const location = response?.headers.get('location');
  if (location) return { location: new URL(location, url).href };
  return response?.ok ? { location: url } : { status: response?.status ?? 0 };
}

/** Where a file is shown, as the addresses in mails look. */
export function isFilePage(url: string): boolean {
  return /\/f\/[\w-]{22}$/.test(url);
}

/** All of the outside is on this machine; the header says where it stands for, as a proxy on the way would. */
function fetchAs(url: string, userAgent: string, from: string): Promise<Response> {
  return fetch(url, {
    redirect: 'manual',
    headers: { 'user-agent': userAgent, 'accept-language': 'en', 'x-forwarded-for': from },
    signal: AbortSignal.timeout(10_000),
  });
}

function addressOf(element: Tree.Element): string | null {
  const name = { img: 'src', a: 'href', area: 'href' }[element.tagName];
  const value = element.attrs.find((attr) => attr.name === name)?.value.trim();
  return value && /^https?:/i.test(value) && URL.canParse(value) ? value : null;
}

function setAttribute(element: Tree.Element, name: string, value: string): void {
  element.attrs = [...element.attrs.filter((attr) => attr.name !== name), { name, value }];
}

export function eachElement(node: Tree.ParentNode, visit: (element: Tree.Element) => void): void {
  for (const child of node.childNodes) {
    if (!('tagName' in child)) continue;
    visit(child);
    eachElement(child, visit);
  }
}
