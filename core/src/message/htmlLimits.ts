/** Limits of HTML that is parsed. Real mail stays far below; above, parsers take more than linear time. */
export const MAX_HTML_CHARS = 2_000_000;
export const MAX_HTML_ELEMENTS = 30_000;
/** Open elements within each other. Long quoted conversations reach about 200. */
export const MAX_HTML_DEPTH = 500;
export const MAX_TAG_ATTRIBUTES = 200;
/**
 * Elements that a parser may add by itself: an unclosed formatting element is opened again in each block after it
 * (HTML standard, section 13.2.4.3, "reconstruct the active formatting elements"), which makes 30 kB of source into
 * millions of elements.
 */
export const MAX_REOPENED_ELEMENTS = 100_000;

/** What parsing a document would cost. */
export interface HtmlCost {
  elements: number;
  /** How deep elements with a required end tag lie within each other; those that others end automatically not counted. */
  depth: number;
  /** Of the tag with the most. */
  attributes: number;
  /** At most so many elements are added by opening formatting elements again. */
  reopened: number;
  /**
   * Whether a style, a script or a title with a "<" in it comes after a drawing: whether that is text or markup depends on
   * where the drawing ends (section 13.2.6.5), which only a parser can tell.
   */
  ambiguous: boolean;
}

/** HTML standard, section 13.2.4.2: these are opened again in the next block where they were not closed. */
const FORMATTING = new Set('a b big code em font i nobr s small strike strong tt u'.split(' '));
/** Have no content (HTML standard, section 13.1.2). */
const VOID = new Set('area base br col embed hr img input link meta source track wbr'.split(' '));
/** Are ended by others of their kind (section 13.1.2.4), so that they nest only within elements that are counted. */
const OPTIONAL_END = new Set(
  'html head body p li dt dd rb rt rtc rp optgroup option colgroup caption thead tbody tfoot tr td th'.split(' '),
);
/** What stands in them is text up to their end tag. */
const RAW_TEXT = new Set('iframe noembed noframes noscript script style textarea title xmp'.split(' '));
const FOREIGN = new Set(['svg', 'math']);
/** So many equal formatting elements are opened again at most (section 13.2.4.3, the "Noah's Ark clause"). */
const MAX_EQUAL_FORMATTING = 3;

const LIMITS: readonly [isOver: (cost: HtmlCost) => boolean, problem: string][] = [
  [({ elements }) => elements > MAX_HTML_ELEMENTS, `Its HTML has more than ${MAX_HTML_ELEMENTS} elements.`],
  [({ depth }) => depth > MAX_HTML_DEPTH, `Its HTML is nested in more than ${MAX_HTML_DEPTH} levels.`],
  [
    ({ attributes }) => attributes > MAX_TAG_ATTRIBUTES,
    `An element of its HTML has more than ${MAX_TAG_ATTRIBUTES} attributes.`,
  ],
  [({ reopened }) => reopened > MAX_REOPENED_ELEMENTS, 'Its HTML leaves too many elements open.'],
  [({ ambiguous }) => ambiguous, 'Its HTML has markup in styles or scripts after a drawing.'],
];

/**
 * Says why HTML is not to be parsed, or null where it may be. Takes linear time and builds no tree, so that it can stand
 * before every parser.
 *
 * @example htmlProblem('<p>Hello') // null
 * @example htmlProblem('<div>'.repeat(600)) // 'Its HTML is nested in more than 500 levels.'
 */
export function htmlProblem(html: string): string | null {
  if (html.length > MAX_HTML_CHARS) return `Its HTML is longer than ${MAX_HTML_CHARS} characters.`;
  const cost = htmlCost(html);
  return LIMITS.find(([isOver]) => isOver(cost))?.[1] ?? null;
}

/** Measures what parsing HTML by its standard would cost, in one pass over its tags. Never less than it does cost. */
export function htmlCost(html: string): HtmlCost {
  return new HtmlScan(html).cost();
}

/** The text of HTML that is not to be parsed: what stands outside tags, a line for each block. Linear. */
export function textOutsideTags(html: string): string {
  return html
    .slice(0, MAX_HTML_CHARS)
    .replace(/<(script|style|title)\b[^<>]*>[^<]*/gi, ' ')
    .replace(/<(br|p|div|tr|li|h[1-6])\b[^<>]*>/gi, '\n')
    .replace(/<[^<>]*>?/g, ' ')
    .replace(/&(nbsp|lt|gt|quot|amp);/g, (_whole, name: string) => ENTITIES[name]!)
    .replace(/[^\S\n]+/g, ' ')
    .replace(/ ?\n\s*/g, '\n')
    .trim();
}

const ENTITIES: Record<string, string> = { nbsp: ' ', lt: '<', gt: '>', quot: '"', amp: '&' };

/** One pass over the tags of a document (HTML standard, section 13.2.5). */
class HtmlScan {
  private at = 0;
  private elements = 0;
  private reopened = 0;
  private depth = 0;
  private deepest = 0;
  private maxAttributes = 0;
  private hasForeign = false;
  private ambiguous = false;
  /** How many elements of each name are open. */
  private readonly open = new Map<string, number>();
  /** Source of the formatting elements that were not closed, by name. */
  private readonly formatting = new Map<string, string[]>();
  private readonly equal = new Map<string, number>();
  /** How many formatting elements are opened again where they are interrupted. */
  private active = 0;

  constructor(private readonly html: string) {}

  cost(): HtmlCost {
    for (this.at = this.html.indexOf('<'); this.at !== -1; this.at = this.html.indexOf('<', this.at)) this.markup();
    const { elements, deepest: depth, maxAttributes: attributes, reopened, ambiguous } = this;
    return { elements, depth, attributes, reopened, ambiguous };
  }

  /** Reads what begins at a "<". */
  private markup(): void {
    const { html, at } = this;
    const next = html.charCodeAt(at + 1);
    if (isLetter(next)) this.startTag();
    else if (next === SLASH && isLetter(html.charCodeAt(at + 2))) this.endTag();
    else if (html.startsWith('<!--', at)) this.skipComment();
    else if (next === EXCLAMATION || next === QUESTION || next === SLASH) this.skipPast('>', at + 2);
    else this.at = at + 1;
  }

  private startTag(): void {
    const start = this.at;
    const name = this.name(start + 1);
    this.maxAttributes = Math.max(this.maxAttributes, this.attributes());
    this.elements += 1;
    if (FORMATTING.has(name)) this.openFormatting(name, this.html.slice(start, this.at));
    else this.reopened += this.active;
    if (FOREIGN.has(name)) this.hasForeign = true;
    if (RAW_TEXT.has(name)) return this.skipRawText(name);
    if (VOID.has(name) || OPTIONAL_END.has(name)) return;
    this.open.set(name, (this.open.get(name) ?? 0) + 1);
    this.depth += 1;
    this.deepest = Math.max(this.deepest, this.depth);
  }

  private endTag(): void {
    const name = this.name(this.at + 2);
    this.attributes();
    this.close(name);
    this.reopened += this.active;
  }

  /** Whether there was one to close. */
  private close(name: string): boolean {
    const open = this.open.get(name) ?? 0;
    if (open === 0) return false;
    this.open.set(name, open - 1);
    this.depth -= 1;
    this.closeFormatting(name);
    return true;
  }

  private openFormatting(name: string, source: string): void {
    // A link ends the one before it.
    if ((name === 'a' || name === 'nobr') && this.close(name)) this.reopened += this.active;
    const equal = this.equal.get(source) ?? 0;
    this.formatting.set(name, this.formatting.get(name) ?? []);
    this.formatting.get(name)!.push(source);
    this.equal.set(source, equal + 1);
    if (equal < MAX_EQUAL_FORMATTING) this.active += 1;
  }

  private closeFormatting(name: string): void {
    const source = this.formatting.get(name)?.pop();
    if (source === undefined) return;
    const equal = this.equal.get(source)! - 1;
    this.equal.set(source, equal);
    if (equal < MAX_EQUAL_FORMATTING) this.active -= 1;
  }

  private name(from: number): string {
    let end = from;
    while (end < this.html.length && !isNameEnd(this.html.charCodeAt(end))) end += 1;
    this.at = end;
    // No name that matters here is longer.
    return this.html.slice(from, Math.min(end, from + 20)).toLowerCase();
  }

  /** Reads up to the ">" of a tag (sections 13.2.5.32 to 13.2.5.40). Returns how many attributes it has. */
  private attributes(): number {
    const { html } = this;
    for (let count = 0; ; count += 1) {
      while (this.at < html.length && isBetween(html.charCodeAt(this.at))) this.at += 1;
      if (this.at >= html.length) return count;
      if (html.charCodeAt(this.at) === GREATER) {
        this.at += 1;
        return count;
      }
      this.attribute();
    }
  }

  private attribute(): void {
    const { html } = this;
    // A "=" at the beginning belongs to the name.
    this.at += 1;
    while (this.at < html.length && !isAttributeNameEnd(html.charCodeAt(this.at))) this.at += 1;
    const equals = this.pastSpace(this.at);
    if (html.charCodeAt(equals) !== EQUALS) return;
    this.at = this.pastSpace(equals + 1);
    const quote = html[this.at];
    if (quote === '"' || quote === "'") return this.skipPast(quote, this.at + 1);
    while (this.at < html.length && !isValueEnd(html.charCodeAt(this.at))) this.at += 1;
  }

  private pastSpace(from: number): number {
    let at = from;
    while (at < this.html.length && isSpace(this.html.charCodeAt(at))) at += 1;
    return at;
  }

  private skipComment(): void {
    // "<!-->" and "<!--->" are whole (section 13.2.5.43); "--!>" ends one, too.
    const end = /--!?>/g;
    end.lastIndex = this.at + 4;
    const abrupt = /^<!--(-?>)/.exec(this.html.slice(this.at, this.at + 6));
    if (abrupt) this.at += abrupt[0].length;
    else this.at = end.test(this.html) ? end.lastIndex : this.html.length;
  }

  private skipRawText(name: string): void {
    const end = new RegExp(`</${name}[\\s/>]`, 'gi');
    end.lastIndex = this.at;
    const until = end.exec(this.html)?.index ?? this.html.length;
    const next = this.hasForeign ? this.html.indexOf('<', this.at) : -1;
    if (next !== -1 && next < until) this.ambiguous = true;
    this.at = until;
  }

  private skipPast(character: string, from: number): void {
    const end = this.html.indexOf(character, from);
    this.at = end === -1 ? this.html.length : end + 1;
  }
}

const SLASH = 0x2f;
const EXCLAMATION = 0x21;
const QUESTION = 0x3f;
const EQUALS = 0x3d;
const GREATER = 0x3e;

const isLetter = (code: number) => (code >= 0x41 && code <= 0x5a) || (code >= 0x61 && code <= 0x7a);
/** Tab, line feed, form feed, carriage return, space. */
const isSpace = (code: number) => code === 0x20 || (code >= 0x09 && code <= 0x0d && code !== 0x0b);
const isBetween = (code: number) => isSpace(code) || code === SLASH;
const isNameEnd = (code: number) => isBetween(code) || code === GREATER;
const isAttributeNameEnd = (code: number) => isNameEnd(code) || code === EQUALS;
const isValueEnd = (code: number) => isSpace(code) || code === GREATER;
