import fc from 'fast-check';
import { PUBLIC_LANGUAGES, publicLanguage, publicSentences, type PublicSentences } from '@kiraku/core/publicPages';

const keys = Object.keys(publicSentences('en')) as (keyof PublicSentences)[];
const placesOf = (sentence: string) => (sentence.match(/\{\w*\}/g) ?? []).join();

describe.each(PUBLIC_LANGUAGES)('in %s', (language) => {
  test('everything is said, and names the sender where the English does', () => {
    const [own, english] = [publicSentences(language), publicSentences('en')];
    expect(Object.keys(own)).toEqual(keys);
    for (const key of keys) {
      expect(own[key].trim()).toBe(own[key]);
      expect(own[key]).not.toBe('');
      expect([key, placesOf(own[key])]).toEqual([key, placesOf(english[key])]);
    }
  });

  test('nothing was left in English', () => {
    if (language === 'en') return;
    const same = keys.filter((key) => key !== 'dir' && publicSentences(language)[key] === publicSentences('en')[key]);
    expect(same).toEqual([]);
  });
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
