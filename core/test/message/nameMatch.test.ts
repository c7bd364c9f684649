import fc from 'fast-check';
import { matchingNames } from '@kiraku/core/message';

const NAMES = ['A gentle reminder', 'First email', 'First email to an architect', 'Näher hören', 'Ärger', '24 samples'];
const all = NAMES.map((name) => ({ name }));
const found = (typed: string) => matchingNames(typed, all).map(({ name }) => name);

test.each<[typed: string, found: string[]]>([
  ['', []],
  ['fi', []],
  ['  fi ', []],
  ['fir', ['First email', 'First email to an architect']],
  ['FIRST em', ['First email', 'First email to an architect']],
  ['first arch', ['First email to an architect']],
  ['email first', []],
  ['irst', []],
  ['gentle', ['A gentle reminder']],
  ['näh', ['Näher hören']],
  ['24 s', ['24 samples']],
  ['…!?', []],
  ['first email to an architect, please', []],
])('“%s”', (typed, names) => expect(found(typed)).toEqual(names));

test('a name is found by itself, and by the beginnings of its words', () => {
  const word = fc.stringMatching(/^[a-zåäö0-9]{1,8}$/);
  fc.assert(
    fc.property(fc.array(word, { minLength: 3, maxLength: 5 }), fc.integer({ min: 1, max: 8 }), (words, length) => {
      const one = { name: words.join(' ') };
      expect(matchingNames(one.name, [one])).toEqual([one]);
      const beginnings = words.map((part) => part.slice(0, length)).join(' ');
      expect(matchingNames(beginnings, [one])).toEqual([one]);
    }),
  );
});
