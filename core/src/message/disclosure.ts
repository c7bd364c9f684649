import { PALETTES } from '../look/index.js';

/** Stands for the page to decline tracking until a copy gets an address of its own. */
export const OPT_OUT_PLACE = 'https://opt-out.invalid/';

export const DISCLOSURE = 'This email tells me when it is opened and which links are clicked. [Opt out]';

/** The same for one of many alike, where opting out is more than not to be tracked. */
export const ROUND_DISCLOSURE =
  'If you would rather not get emails like this one, or not let me see when you open them: [opt out].';

/**
 * The line that tells recipients about tracking. Its last words in [brackets] lead to the page to opt out; where
 * there are none, words of ours are added, so that no disclosure is without a way out.
 */
export function disclosureOf(wording: string): { html: string; text: string } {
  const match = /^([\s\S]*)\[([^\]]+)\]([\s\S]*)$/.exec(wording);
  const [before, words, after] = match ? match.slice(1) : [`${wording} `, 'Opt out', ''];
  const link = `<a href="${OPT_OUT_PLACE}">${escaped(words!)}</a>`;
  return {
    html: `<p style="font-size: 12px; color: ${PALETTES.light.softInk}">${escaped(before!)}${link}${escaped(after!)}</p>`,
    text: `${before}${words}${after} <${OPT_OUT_PLACE}>`,
  };
}

/** Any text as HTML in ASCII only, so that it fits a message in any charset. */
function escaped(text: string): string {
  return [...text]
    .map((character) => (/[\w .,;:!?()'/-]/.test(character) ? character : `&#${character.codePointAt(0)};`))
    .join('');
}
