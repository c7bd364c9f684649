import fc from 'fast-check';
import { textOf } from '../src/shared/editor/textOf.js';
import { linksOf, withLink } from '../src/write/linksOf.js';

const HTML =
  '<p>See <a href="https://a.example/price">the <b>price</b>\n list</a>, <a href="mailto:x@y.example">mail me</a> or ' +
  '<a href="https://b.example/" data-track="no">this</a>.</p>';

test('the web links of a message, with what is tracked of them', () => {
  expect(linksOf(HTML)).toEqual([
    { url: 'https://a.example/price', words: 'the price list', tracked: true },
    { url: 'https://b.example/', words: 'this', tracked: false },
  ]);
  expect(linksOf('')).toEqual([]);
});

test('one link is changed, and the others stay as they are', () => {
  const link = fc.record({ url: fc.webUrl(), words: fc.stringMatching(/^[a-z]{1,12}$/), tracked: fc.boolean() });
  const links = fc.array(link, { minLength: 1, maxLength: 5 });
  fc.assert(
    fc.property(links, fc.nat(), link, (before, at, change) => {
      const position = at % before.length;
      const html = before
        .map(({ url, words, tracked }) => {
          const anchor = document.createElement('a');
          anchor.href = url;
          anchor.textContent = words;
          if (!tracked) anchor.dataset['track'] = 'no';
          return `<p>${anchor.outerHTML}</p>`;
        })
        .join('');
      const was = linksOf(html);
      const now = linksOf(withLink(html, position, change));
      expect(now).toHaveLength(was.length);
      expect(now.filter((_, index) => index !== position)).toEqual(was.filter((_, index) => index !== position));
      expect(now[position]).toEqual({ ...change, url: new URL(change.url).href });
    }),
    { numRuns: 50 },
  );
});

test('a link that is not there changes nothing', () => {
  expect(withLink(HTML, 7, { words: 'x' })).toBe(HTML);
});

test('the words of a message stand block by block', () => {
  expect(textOf('<h2>Hello</h2><ul><li>one</li><li>two</li></ul><p>Bye<br>now</p>')).toBe('Hello\none\ntwo\nByenow');
  expect(textOf('<p>Mine</p><blockquote><p>Please find it attached.</p></blockquote><p>too</p>')).toBe('Mine\ntoo');
});
