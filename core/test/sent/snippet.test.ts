import { MATCH_BEGINS, MATCH_ENDS } from '@kiraku/core/contract';
import { snippetOf } from '@kiraku/core/sent';

const shown = (texts: string[], words: string) =>
  snippetOf(texts, words).replaceAll(MATCH_BEGINS, '[').replaceAll(MATCH_ENDS, ']');

test.each<[string, string[], string, string]>([
  ['by its beginning, every match', ['The felt panels are felted'], 'felt', 'The [felt] panels are [felted]'],
  ['without its accents, in any case', ['Für Émile'], 'emi FUR', '[Für] [Émile]'],
  ['in the first text that has one', ['Subject', 'a letter of felt'], 'felt', 'a letter of [felt]'],
  ['inside other signs', ['(felt), 24-mm'], 'mm felt', '[(felt),] [24-mm]'],
  [
    'with what stands around it',
    [`${'a '.repeat(30)}felt ${'b '.repeat(30)}`],
    'felt',
    `… a a a a a [felt] ${'b '.repeat(13)}…`,
  ],
  ['nowhere', ['nothing'], 'felt', ''],
  ['nothing searched for', ['nothing'], '…', ''],
])('a word is found %s', (_name, texts, words, expected) => {
  expect(shown(texts, words)).toBe(expected);
});

test('nothing is left out where nothing stands before or after what is shown', () => {
  expect(shown(['a a a a a felt'], 'felt')).toBe('a a a a a [felt]');
  expect(shown(['a a a a a a felt'], 'felt')).toBe('… a a a a a [felt]');
  expect(shown([`felt ${'b '.repeat(13)}`], 'felt')).toBe(`[felt] ${'b '.repeat(13)}`.trim());
  expect(shown([`felt ${'b '.repeat(14)}`], 'felt')).toBe(`[felt] ${'b '.repeat(13)}…`);
});
