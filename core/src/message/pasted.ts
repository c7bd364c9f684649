/** What stands between these is dropped; to the end where it is not closed, as a browser reads it. */
const DROPPED_SECTIONS: { opening: RegExp; closing(opening: RegExpExecArray): string }[] = [
  { opening: /<!--/g, closing: () => '-->' },
  { opening: /<(style|script|xml|title)\b/gi, closing: ([, name]) => `</${name!.toLowerCase()}>` },
];
const DROPPED_TAGS = /<\/?(?:meta|link|font|[a-z]+:[a-z]+)\b[^<>]*>/gi;
const TAGS = /<[a-z][^<>]*>/gi;
const DROPPED_ATTRIBUTES = /\s(?:style|class|lang|align|width|height)=(?:"[^"]*"|'[^']*'|[^\s>]+)/gi;

/**
 * HTML from the clipboard without what word processors put around what they copy, without which the rest reads as it was
 * meant: conditional comments, name-spaced elements, style sheets, and the style attributes that only they understand. In
 * time that grows with its length, whoever wrote it. It is no protection: the editor takes what it knows, and the server cleans.
 *
 * @example withoutOffice('<p class="MsoNormal">Hello<o:p></o:p></p>') // <p>Hello</p>
 */
export function withoutOffice(html: string): string {
  return DROPPED_SECTIONS.reduce(withoutSections, html)
    .replace(DROPPED_TAGS, '')
    .replace(TAGS, (tag) => tag.replace(DROPPED_ATTRIBUTES, ''));
}

function withoutSections(html: string, { opening, closing }: (typeof DROPPED_SECTIONS)[number]): string {
  const lower = html.toLowerCase();
  let kept = '';
  for (let at = 0; ;) {
    opening.lastIndex = at;
    const found = opening.exec(html);
    if (!found) return kept + html.slice(at);
    kept += html.slice(at, found.index);
    const end = lower.indexOf(closing(found), found.index + found[0].length);
    if (end < 0) return kept;
    at = end + closing(found).length;
  }
}
