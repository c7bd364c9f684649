import fc from 'fast-check';
import {
  addressKey,
  addressProblem,
  mailboxText,
  parseAddresses,
  replaceRecipient,
  withoutTag,
} from '@kiraku/core/message';

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

  const INVISIBLE = [
    '\u0000',
    '\u0007',
    '\u00ad',
    '\u200b',
    '\u200e',
    '\u202e',
    '\u2066',
    '\ufeff',
    '\r\n',
    '\n',
    '\t',
    '\u2028',
  ];
  const plain = fc
    .tuple(fc.stringMatching(/^[a-z]{1,8}$/), fc.stringMatching(/^[a-z]{1,8}$/), fc.constantFrom('', 'Marit Oakes'))
    .map(([local, domain, name]) => ({ address: `${local}@${domain}.example`, name }));
  const written = ({ address, name }: { address: string; name: string }) => (name ? `${name} <${address}>` : address);

  test('no invisible or line-breaking character gets through', () => {
    let taken = 0;
    fc.assert(
      fc.property(plain, fc.constantFrom(...INVISIBLE), fc.double({ min: 0, max: 1, noNaN: true }), (box, sign, at) => {
        // It can be read as it is,
        expect(parseAddresses(written(box))).toEqual({ mailboxes: [box] });
        // and with a sign anywhere in it, it is refused or comes out without it.
        const text = written(box);
        const place = Math.floor(at * (text.length + 1));
        const parsed = parseAddresses(text.slice(0, place) + sign + text.slice(place));
        if ('problem' in parsed) return;
        taken += 1;
        for (const { address } of parsed.mailboxes) expect(address).not.toMatch(/[\p{Cc}\p{Cf}\p{Zl}\p{Zp}\s]/u);
      }),
      { numRuns: 500 },
    );
    expect(taken).toBeGreaterThan(0);
  });

  test('whatever is pasted, it is read or refused in words', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('a', '@', '.', 'x.example', ' ', '<', '>', '"', ',', ';', '(', '\\', ':', '\n')),
        (parts) => {
          const parsed = parseAddresses(parts.join(''));
          if ('problem' in parsed) expect(parsed.problem).toMatch(/[.?]$/);
          else for (const { address } of parsed.mailboxes) expect(address).toMatch(/^[^\s<>]+@[^\s<>@]+\.[^\s<>@]+$/);
        },
      ),
      { numRuns: 1000 },
    );
  });
});

test('the key of an address does not depend on how it is written', () => {
  expect(addressKey(' Zoe\u0308@X.Example ')).toBe(addressKey('zo\u00eb@x.example'));
});

test('the longest address is possible, and one character more is not', () => {
  const domain = `${'d'.repeat(60)}.${'d'.repeat(60)}.${'d'.repeat(60)}.example`;
  const local = 'l'.repeat(254 - domain.length - 1);
  expect(addressProblem(`${local}@${domain}`)).toBeNull();
  expect(addressProblem(`${local}l@${domain}`)).toMatch(/longer than the 254 characters/);
  expect(addressProblem(`${'l'.repeat(64)}@x.example`)).toBeNull();
  expect(addressProblem(`${'l'.repeat(65)}@x.example`)).toMatch(/longer than 64/);
});

test('blanks may stand within quotation marks, and nothing invisible anywhere', () => {
  expect(addressProblem('"marit oakes"@x.example')).toBeNull();
  expect(addressProblem('"marit\\"oakes"@x.example')).toBeNull();
  expect(addressProblem('marit oakes@x.example')).toMatch(/blank/);
  expect(addressProblem('"marit"oakes"@ x.example')).toMatch(/blank|domain/);
  expect(addressProblem('"marit\u200boakes"@x.example')).toMatch(/invisible/);
});

test('a name is cut where it would be endless', () => {
  expect(parseAddresses(`${'n'.repeat(300)} <a@x.example>`)).toEqual({
    mailboxes: [{ name: 'n'.repeat(200), address: 'a@x.example' }],
  });
});

test.each([
  ['ines+panels@tallowreed.example', 'ines@tallowreed.example'],
  ['ines+a+b@x.example', 'ines@x.example'],
  ['ines@x.example', 'ines@x.example'],
  ['+ines@x.example', '+ines@x.example'],
  ['"a+b"@x.example', '"a+b"@x.example'],
  ['a@x+y.example', 'a@x+y.example'],
])('%s without its tag is %s', (address, without) => {
  expect(withoutTag(address)).toBe(without);
});

test('a mailbox that is taken back into what is typed is read again as it was', () => {
  const name = fc
    .string({ unit: fc.constantFrom(...'Zoë Ærø,;<>@"\\\'()-.1'), maxLength: 12 })
    .map((text) => text.trim().replace(/\s+/g, ' '));
  fc.assert(
    fc.property(name, (named) => {
      const box = { name: named, address: 'zoe@x.example' };
      expect(parseAddresses(mailboxText(box))).toEqual({ mailboxes: [box] });
    }),
  );
});

describe('a recipient who is replaced', () => {
  const to = (address: string, kind: 'to' | 'cc' = 'to') => ({ kind, name: '', address });
  const both = [to('a@x.example'), to('b@x.example', 'cc')];

  test('keeps their place and field', () => {
    expect(replaceRecipient(both, 'b@x.example', { name: 'Bo', address: 'bo@x.example' })).toEqual([
      both[0],
      { kind: 'cc', name: 'Bo', address: 'bo@x.example' },
    ]);
    expect(replaceRecipient(both, 'a@x.example', { name: '', address: 'A@x.example' })).toEqual([
      to('A@x.example'),
      both[1],
    ]);
  });

  test('is left out where the other is addressed already, and nobody is where nobody is meant', () => {
    expect(replaceRecipient(both, 'a@x.example', { name: '', address: 'B@X.example' })).toEqual([both[1]]);
    expect(replaceRecipient(both, 'c@x.example', { name: '', address: 'd@x.example' })).toEqual(both);
  });
});
