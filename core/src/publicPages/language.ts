import { PUBLIC_LANGUAGES, type PublicLanguage } from './sentences.js';

/** Nobody reads more languages than this; what is longer was not written by a browser. */
const MAX_RANGES = 20;

/**
 * The language that somebody reads best of those that the pages speak; English where they read none of them.
 *
 * @param header `Accept-Language` (RFC 9110, section 12.5.4): ranges by weight, of which the first subtag is looked up
 *   (RFC 4647, section 3.4)
 */
export function publicLanguage(header: string | undefined): PublicLanguage {
  const ranges = (header ?? '')
    .split(',', MAX_RANGES)
    .map((part) => {
      const [range, ...parameters] = part.split(';').map((one) => one.trim().toLowerCase());
      const weight = parameters.find((one) => one.startsWith('q='));
      return { language: range!.split('-', 1)[0]!, weight: weight === undefined ? 1 : Number(weight.slice(2)) };
    })
    .filter(({ weight }) => weight > 0)
    .sort((a, b) => b.weight - a.weight);
  for (const { language } of ranges) {
    const spoken = PUBLIC_LANGUAGES.find((one) => one === language);
    if (spoken) return spoken;
  }
  return 'en';
}
