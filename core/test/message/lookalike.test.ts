import fc from 'fast-check';
import { isOneSlip, lookalikesOf } from '@kiraku/core/message';

test.each([
  ['lindqvist.example', 'lindqist.example'],
  ['lindqvist.example', 'lindqvvist.example'],
  ['lindqvist.example', 'lindqvost.example'],
  ['lindqvist.example', 'linqdvist.example'],
  ['a', ''],
])('“%s” and “%s” are one slip apart', (one, other) => {
  expect([isOneSlip(one, other), isOneSlip(other, one)]).toEqual([true, true]);
});

test.each([
  ['lindqvist.example', 'lindqvist.example'],
  ['lindqvist.example', 'lndqvst.example'],
  ['lindqvist.example', 'tallowreed.example'],
  ['abcd', 'badc'],
  ['abc', 'cba'],
  ['', 'ab'],
])('“%s” and “%s” are not', (one, other) => {
  expect([isOneSlip(one, other), isOneSlip(other, one)]).toEqual([false, false]);
});

test('whatever slip is made in whatever word, it is noticed', () => {
  const word = fc.string({ minLength: 1, maxLength: 20 });
  fc.assert(
    fc.property(word, fc.nat(), fc.string({ minLength: 1, maxLength: 1 }), (text, place, letter) => {
      const at = place % text.length;
      const swapped = text.slice(0, at) + (text[at + 1] ?? '') + text[at]! + text.slice(at + 2);
      const slips = [
        text.slice(0, at) + text.slice(at + 1),
        text.slice(0, at) + letter + text.slice(at),
        text.slice(0, at) + letter + text.slice(at + 1),
        swapped,
      ];
      for (const slip of slips) expect([text, slip, isOneSlip(text, slip)]).toEqual([text, slip, slip !== text]);
    }),
  );
});

describe('unknown addresses', () => {
  const known = ['lindqvist.example', 'clinic.example'];
  test.each([
    ['marit@lindqist.example', 'marit@lindqvist.example'],
    ['Otto@CLINIK.example', 'otto@clinic.example'],
    // Somebody else at a company that is known is nothing strange.
    ['new@lindqvist.example', undefined],
    ['otto@elsewhere.example', undefined],
  ])('%s: %s', (address, meant) => expect(lookalikesOf([address], known).get(address)).toBe(meant));

  test('are left alone where their own domain is known, however near another', () => {
    expect(lookalikesOf(['a@bank.example'], ['bank.example', 'tank.example']).size).toBe(0);
    expect(lookalikesOf(['a@bank.example'], ['tank.example', 'bank.example']).size).toBe(0);
  });

  test('are each compared, also those of one domain', () => {
    const meant = lookalikesOf(['a@clinik.example', 'b@clinik.example', 'c@lindqist.example'], known);
    expect([...meant.values()]).toEqual(['a@clinic.example', 'b@clinic.example', 'c@lindqvist.example']);
  });

  test('of very many domains only the first hundred cost a comparison', () => {
    const many = Array.from({ length: 101 }, (_, n) => `a@clinic.exampl${String.fromCharCode(0x100 + n)}`);
    expect(lookalikesOf(many, known).size).toBe(100);
  });
});
