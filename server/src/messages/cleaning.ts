import sanitizeHtml from 'sanitize-html';

/** How a message refers to a picture of the store: by the SHA-256 of its bytes (RFC 2392). */
export const PICTURE_URL = /^cid:([0-9a-f]{64})@picture$/;

/** What mail programs show alike, and nothing that runs, loads by itself, or reaches out of the message. */
export const ALLOWED_HTML: sanitizeHtml.IOptions = {
  allowedTags: [
    'p',
    'div',
    'span',
    'br',
    'hr',
    'h1',
    'h2',
    'h3',
    'h4',
    'blockquote',
    'pre',
    'code',
    'ul',
    'ol',
    'li',
    'b',
    'strong',
    'i',
    'em',
    'u',
    's',
    'sub',
    'sup',
    'a',
    'table',
    'thead',
    'tbody',
    'tr',
    'td',
    'th',
    'img',
  ],
  allowedAttributes: {
    a: ['href', 'title', { name: 'data-track', values: ['no'] }],
    img: ['src', 'alt', 'width'],
    // The place of a file.
    p: ['data-file'],
    ol: ['start'],
    td: ['colspan', 'rowspan'],
    th: ['colspan', 'rowspan'],
    '*': ['style', 'dir', 'lang'],
  },
  allowedSchemes: ['http', 'https', 'mailto', 'tel'],
  allowedSchemesByTag: { img: ['cid'] },
  allowProtocolRelative: false,
  // A picture is one of ours, or none.
  exclusiveFilter: ({ tag, attribs }) => tag === 'img' && !PICTURE_URL.test(attribs['src'] ?? ''),
  allowedStyles: {
    '*': {
      'text-align': [/^(left|right|center|justify)$/],
      'font-weight': [/^(bold|normal|[1-9]00)$/],
      'font-style': [/^(italic|normal)$/],
      'text-decoration': [/^(underline|line-through|none)$/],
      color: [/^#[0-9a-f]{3,6}$/i, /^rgb\([\d, ]+\)$/],
      'background-color': [/^#[0-9a-f]{3,6}$/i, /^rgb\([\d, ]+\)$/],
    },
  },
};

/**
 * HTML that somebody else wrote, as it may be kept and shown: nothing in it runs, and nothing is loaded from anywhere.
 *
 * @param pictures what to show in the place of pictures, by their addresses; all others are gone
 * @param targets where some links are to lead instead, by their addresses
 */
export function cleanForeign(
  html: string,
  { pictures, targets }: { pictures: ReadonlyMap<string, string>; targets: ReadonlyMap<string, string> },
): string {
  return sanitizeHtml(html, {
    ...ALLOWED_HTML,
    allowedAttributes: { ...ALLOWED_HTML.allowedAttributes, p: [], a: ['href', 'title'] },
    allowedSchemesByTag: { img: ['data', 'cid'] },
    nonTextTags: ['script', 'style', 'textarea', 'option', 'title', 'template'],
    exclusiveFilter: ({ tag, attribs }) => tag === 'img' && !attribs['src'],
    transformTags: {
      img: (tagName, attribs) => ({ tagName, attribs: { ...attribs, src: pictures.get(attribs['src'] ?? '') ?? '' } }),
      a: (tagName, attribs) => {
        const target = targets.get((attribs['href'] ?? '').trim());
        return { tagName, attribs: target === undefined ? attribs : { ...attribs, href: target } };
      },
    },
  });
}
