import fc from 'fast-check';
import { flowed } from '@kiraku/core/message';

/** A reader of format=flowed by the text of RFC 3676, section 4.1 to 4.5: each paragraph with its depth of quotation. */
function unflowed(body: string): string[] {
  const paragraphs: string[] = [];
  let open = null as { depth: number; text: string } | null;
  const close = () => {
    if (open) paragraphs.push('>'.repeat(open.depth) + open.text);
    open = null;
  };
  for (const line of body.split('\r\n')) {
    const depth = /^>*/.exec(line)![0].length;
    const text = line.slice(depth).replace(/^ /, '');
    if (open && open.depth !== depth) close();
    if (text === '-- ') {
      close();
      paragraphs.push('>'.repeat(depth) + text);
      continue;
    }
    open = { depth, text: (open?.text ?? '') + text };
    if (!text.endsWith(' ')) close();
  }
  close();
  return paragraphs;
}

test('a long paragraph is wrapped, and each line but its last says that it goes on', () => {
  const lines = flowed('many words '.repeat(30).trim()).split('\r\n');
  expect(lines.length).toBeGreaterThan(3);
  expect(lines.every((line) => line.length <= 78)).toBe(true);
  expect(lines.slice(0, -1).every((line) => line.endsWith(' '))).toBe(true);
  expect(lines.at(-1)).not.toMatch(/ $/);
});

test.each([
  ['From here on', ' From here on'],
  ['  set in', '   set in'],
  ['-- ', '-- '],
  ['ends open   ', 'ends open'],
  ['> > said', '>> said'],
  ['', ''],
  ['a\nb\r\nc', 'a\r\nb\r\nc'],
])('%j travels as %j', (text, travels) => {
  expect(flowed(text)).toBe(travels);
});

test('an address longer than a line stays whole', () => {
  const url = `https://tallowreed.example/${'felt/'.repeat(30)}`;
  expect(flowed(`See <${url}> for it`).split('\r\n')).toContain(`<${url}> `);
});

test('a reader that knows the format gets every paragraph back as it was written', () => {
  const word = fc.oneof(
    fc.stringMatching(/^[!-=?-~]{1,20}$/),
    fc.constantFrom('From', '--', '>', 'ä', '漢字', 'x'.repeat(100)),
  );
  const words = fc.array(word, { maxLength: 40 }).map((list) => list.join(' '));
  const paragraph = fc
    .tuple(fc.nat({ max: 3 }), words)
    .map(([depth, text]) => '>'.repeat(depth) + text.replace(/^[> ]+/, ''))
    .filter((text) => !/^>*-- ?$/.test(text));
  fc.assert(
    fc.property(fc.array(paragraph, { minLength: 1, maxLength: 12 }), (paragraphs) => {
      const travels = flowed(paragraphs.join('\n'));
      expect(unflowed(travels)).toEqual(paragraphs);
    }),
  );
});
