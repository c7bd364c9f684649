import fc from 'fast-check';
import { addressKey, parseAddresses } from '@kiraku/core/message';

const read = (text: string) => {
  const parsed = parseAddresses(text);
  return 'problem' in parsed ? parsed.problem : parsed.mailboxes.map((box) => `${box.name}|${box.address}`);
};

describe('parseAddresses', () => {
  test.each([
    ['marit@lindqvist.example', ['|marit@lindqvist.example']],
    ['Marit Oakes <marit@lindqvist.example>', ['Marit Oakes|marit@lindqvist.example']],
    ['"Oakes, Marit" <m@l.example>, jun@l.example', ['Oakes, Marit|m@l.example', '|jun@l.example']],
    ['a@x.example; b@x.example\nc@x.example,', ['|a@x.example', '|b@x.example', '|c@x.example']],
    ['Zoë Ærø <zoë@ærø.example>', ['Zoë Ærø|zoë@ærø.example']],
    ['a@x.example, Ada <A@X.example>', ['Ada|A@X.example']],
    ['  ', []],
  ])('reads %j', (text, expected) => {
    expect(read(text)).toEqual(expected);
  });

  test.each([
    'marit',
    'marit@',
    '@x.example',
    'marit@localhost',
    'a b@x.example',
    'a@x..example',
    `${'a'.repeat(65)}@x.example`,
    `a@${'x'.repeat(260)}.example`,
  ])('explains what is wrong with %j', (text) => {
    expect(read(text)).toEqual(expect.stringMatching(/^(“|The part).+\.( .+)?$|\?$/));
  });

  test('no invisible or line-breaking character gets through', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'binary' }), (text) => {
        const parsed = parseAddresses(text);
        if ('problem' in parsed) return;
        parsed.mailboxes.forEach((box) => expect(box.address).not.toMatch(/[\p{Cc}\p{Cf}\s]/u));
      }),
    );
  });
});

test('the key of an address does not depend on how it is written', () => {
  expect(addressKey(' Zoe\u0308@X.Example ')).toBe(addressKey('zo\u00eb@x.example'));
});
