import { withoutOffice } from '@kiraku/core/message';
import fc from 'fast-check';

test.each([
  ['conditional comments', '<!--[if gte mso 9]><xml><o:p/></xml><![endif]--><p>Hello</p>', '<p>Hello</p>'],
  ['style sheets and titles', '<TITLE>A</TITLE><style>p { color: red }</STYLE><p>Hello</p>', '<p>Hello</p>'],
  ['name-spaced elements', '<p>Hello<o:p>&nbsp;</o:p></p>', '<p>Hello&nbsp;</p>'],
  ['fonts and links of its own', '<meta charset=utf-8><font face="X">Hello</font>', 'Hello'],
  ['style attributes', `<p class="MsoNormal" style='margin:0' lang=EN-GB>Hello</p>`, '<p>Hello</p>'],
  ['what is never closed', '<p>Hello</p><!-- and then', '<p>Hello</p>'],
])('%s go', (_what, pasted, expected) => {
  expect(withoutOffice(pasted)).toBe(expected);
});

test.each([
  '<p>Prices: 3 < 4, class=A, style="guide" and <a href="https://x.example/?class=1">a link</a></p>',
  '<ul><li><strong>One</strong></li></ul><h2>Two</h2><blockquote>Three</blockquote>',
])('what was written stays: %s', (html) => {
  expect(withoutOffice(html)).toBe(html);
});

test('no text takes long, however it is made up', () => {
  const pieces = ['<!--', '<style', '<xml>', '<font', '<o:p', ' style="', " class='", '-->', '</style>', 'x', '>'];
  fc.assert(
    fc.property(fc.array(fc.constantFrom(...pieces), { maxLength: 4 }), (some) => {
      const html = some.join('').repeat(100_000);
      // A length that grows with its square would not come back within the time of a test.
      expect(withoutOffice(html).length).toBeLessThanOrEqual(html.length);
    }),
    { numRuns: 30 },
  );
});
