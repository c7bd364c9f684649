import fc from 'fast-check';
import { attributeValue, hasAsciiOctets, planOctets, instrument } from '@kiraku/core/tracking';

const URL = 'https://door.example/l/abc';

test('what looks like markup between the escapes of ISO-2022-JP is none', () => {
  // Double-byte signs whose octets read as “<a href=x>”.
  const run = '\x1b$B<a href=http://x.example/>\x1b(B';
  const octets = `<p>${run}<a href="https://a.example/">${run}</a></p>`;
  const plan = planOctets(octets, 'iso-2022-jp', attributeValue);
  expect(plan.links.map(({ url }) => url)).toEqual(['https://a.example/']);
  expect(instrument(plan, { imageUrl: null, linkUrls: [URL] })).toBe(`<p>${run}<a href="${URL}">${run}</a></p>`);
  expect(planOctets(octets, 'utf-8', attributeValue).links).toHaveLength(3);
});

test('instrumenting changes no octet but those of the addresses, whatever stands around them', () => {
  const around = fc
    .uint8Array({ maxLength: 60 })
    .map((bytes) => Buffer.from(bytes.filter((octet) => octet > 127)).toString('latin1'));
  fc.assert(
    fc.property(around, around, around, (before, words, after) => {
      const octets = `<p>${before}<a href="https://a.example/">${words}</a>${after}</p>`;
      const instrumented = instrument(planOctets(octets, 'shift_jis', attributeValue), {
        imageUrl: null,
        linkUrls: [URL],
      });
      expect(instrumented).toBe(octets.replace('https://a.example/', URL));
    }),
  );
});

test.each([
  ['utf-8', true],
  ['windows-1252', true],
  ['shift_jis', true],
  ['utf-16', false],
  ['utf-16le', false],
  ['UTF-32', false],
])('%s writes ASCII as ASCII: %s', (charset, is) => {
  expect(hasAsciiOctets(charset)).toBe(is);
});

test('the mark at the beginning of a UTF-8 message stays its first octets', () => {
  const octets = '\xef\xbb\xbf<p>x</p>';
  const instrumented = instrument(planOctets(octets, 'utf-8', attributeValue), { imageUrl: URL, linkUrls: [] });
  expect(instrumented).toMatch(/^\xef\xbb\xbf<img [^>]+><p>x<\/p>$/);
});

test('an address is read as it is written, whichever the charset', () => {
  const read = (written: string) => Buffer.from(attributeValue(written), 'latin1').toString('utf8');
  const plan = planOctets('<a href="https://b\xc3\xbccher.example/\xc3\xa4?a=1&amp;b=2">x</a>', 'utf-8', read);
  expect(plan.links.map(({ url }) => url)).toEqual(['https://xn--bcher-kva.example/%C3%A4?a=1&b=2']);
});

test.each([
  ['a&amp;b&#x41;&quot;', 'a&bA"'],
  [`it's "so"&lt;`, `it's "so"<`],
  ['plain', 'plain'],
  ['', ''],
])('the attribute %j says %j', (written, value) => {
  expect(attributeValue(written)).toBe(value);
});
