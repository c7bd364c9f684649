import fc from 'fast-check';
import { cleanTags, MAX_TAG_CHARS, MAX_TAGS, tagsIn, tagsProblem } from '@kiraku/core/people';

test.each<[typed: string[], inUse: string[], clean: string[]]>([
  [[], [], []],
  [['  café ', ''], [], ['café']],
  [['Café', 'CAFÉ', 'café'], [], ['Café']],
  [['café'], ['Café'], ['Café']],
  [['two   words\n'], [], ['two words']],
  // The same letter, put together and taken apart (Unicode UAX #15).
  [['cafe\u0301', 'caf\u00e9'], [], ['caf\u00e9']],
])('%j, where %j are in use, are kept as %j', (typed, inUse, clean) => {
  expect(cleanTags(typed, inUse)).toEqual(clean);
});

const tags = fc.array(fc.string({ unit: 'grapheme', maxLength: 12 }), { maxLength: 8 });

test('what is clean stays as it is, and nothing is kept twice', () => {
  fc.assert(
    fc.property(tags, tags, (typed, inUse) => {
      const known = cleanTags(inUse);
      const clean = cleanTags(typed, known);
      expect(cleanTags(clean, known)).toEqual(clean);
      expect(new Set(clean.map((tag) => tag.toLowerCase())).size).toBe(clean.length);
    }),
  );
});

test('tags that may be kept come back from a cell of a sheet', () => {
  fc.assert(
    fc.property(tags, (typed) => {
      const clean = cleanTags(typed);
      if (tagsProblem(clean) === null) expect(tagsIn(clean.join(', '))).toEqual(clean);
    }),
  );
});

test('what is wrong with tags is said', () => {
  const many = (count: number) => Array.from({ length: count }, (_, index) => `tag ${index}`);
  expect(tagsProblem(many(MAX_TAGS))).toBeNull();
  expect(tagsProblem(many(MAX_TAGS + 1))).toBe('Give a person at most 20 tags.');
  expect(tagsProblem(['x'.repeat(MAX_TAG_CHARS)])).toBeNull();
  expect(tagsProblem(['x'.repeat(MAX_TAG_CHARS + 1)])).toMatch(/^A tag has at most 40 characters/);
  for (const separated of ['a,b', 'a;b']) expect(tagsProblem([separated])).toMatch(/no comma or semicolon/);
});
