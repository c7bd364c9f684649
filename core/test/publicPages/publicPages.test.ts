import fc from 'fast-check';
import {
  filled,
  PUBLIC_LANGUAGES,
  publicLanguage,
  publicSentences,
  viewerSentences,
  type PublicLanguage,
} from '@kiraku/core/publicPages';

const placesOf = (sentence: string) => (sentence.match(/\{\w*\}/g) ?? []).sort().join();
const sayings = (language: PublicLanguage) => ({ ...publicSentences(language), ...viewerSentences(language) });
const ENGLISH: Record<string, string> = sayings('en');

describe.each(PUBLIC_LANGUAGES)('in %s', (language) => {
  const own: Record<string, string> = sayings(language);

  test('everything is said, with the places that the English has', () => {
    expect(Object.keys(own)).toEqual(Object.keys(ENGLISH));
    for (const [key, sentence] of Object.entries(own)) {
      expect(sentence.trim()).toBe(sentence);
      expect(sentence).not.toBe('');
      expect([key, placesOf(sentence)]).toEqual([key, placesOf(ENGLISH[key]!)]);
    }
  });

  test('nothing was left in English', () => {
    if (language === 'en') return;
    const same = Object.keys(own).filter((key) => own[key] === ENGLISH[key] && own[key] !== 'ltr');
    // The French call them the same.
    expect(same).toEqual(language === 'fr' ? ['pages'] : []);
  });
});

test('places are filled, each as often as it stands, and what is not known stays', () => {
  expect(filled('{page} of {pages}, {page}: {x}', { page: 3, pages: '{page}' })).toBe('3 of {page}, 3: {x}');
});

test('one is written from right to left, and says so', () => {
  expect(PUBLIC_LANGUAGES.filter((language) => publicSentences(language).dir === 'rtl')).toEqual(['ar']);
});

test.each([
  [undefined, 'en'],
  ['', 'en'],
  ['*', 'en'],
  ['de', 'de'],
  ['de-AT', 'de'],
  ['DE-at', 'de'],
  ['pt-BR,pt;q=0.9,en;q=0.8', 'pt'],
  ['en;q=0.4, fr;q=0.9, de;q=0.7', 'fr'],
  ['fi, sv;q=0.8, en;q=0.5', 'sv'],
  ['fi, et;q=0.8', 'en'],
  ['de;q=0, nl;q=0.1', 'nl'],
  ['ja;q=nonsense, pl', 'pl'],
  ['ar-EG , ar;q=0.9', 'ar'],
  ['; ;;,,de', 'de'],
  ['denmark', 'en'],
])('of “%s” %s is spoken', (header, language) => {
  expect(publicLanguage(header)).toBe(language);
});

test('whatever is asked for, a language that is known is spoken', () => {
  fc.assert(
    fc.property(fc.string(), (header) => {
      expect(PUBLIC_LANGUAGES).toContain(publicLanguage(header));
    }),
  );
});
