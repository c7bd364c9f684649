import fc from 'fast-check';
import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5';
import { htmlCost, htmlProblem, textOutsideTags } from '@kiraku/core/message';
import { elementsOf } from '@kiraku/core/tracking';
import { messageHtml } from '../tracking/html.js';

const numbered = (count: number, tag: (n: number) => string) =>
  Array.from({ length: count }, (_, n) => tag(n)).join('');

describe('htmlProblem', () => {
  test.each([
    ['nothing', ''],
    ['plain words with signs', 'a < b && c > d <3'],
    ['a long list without end tags', `<ul>${'<li>one'.repeat(5000)}</ul>`],
    ['paragraphs without end tags', '<p>one'.repeat(10_000)],
    ['rows and cells without end tags', `<table>${'<tr><td>1<td>2'.repeat(4000)}</table>`],
    ['a conversation of forty replies', '<div><blockquote><div>'.repeat(40)],
    ['links that are not closed', numbered(3000, (n) => `<a href="https://a.example/${n}">link`)],
    ['a font around everything', `<font face="Arial"><b>${'<p>x</p>'.repeat(5000)}</b></font>`],
    ['styles and scripts after a drawing', '<svg><path></svg><style>p{}</style><script>x()</script>'],
    ['the same unclosed font again and again', '<p><font color="red">x</p>'.repeat(400)],
  ])('lets %s pass', (_name, html) => {
    expect(htmlProblem(html)).toBeNull();
  });

  test.each([
    ['length', 'x'.repeat(2_000_001), /longer/],
    ['elements', '<br>'.repeat(30_001), /elements/],
    ['depth', '<div>'.repeat(501), /levels/],
    ['attributes', `<p ${numbered(201, (n) => `a${n} `)}>`, /attributes/],
    ['formatting opened again', `<p>${numbered(450, (n) => `<b x=${n}>`)}${'<p>x'.repeat(2200)}`, /open/],
    ['formatting opened again by end tags', `${numbered(400, (n) => `<b x=${n}>`)}${'x</p>'.repeat(2000)}`, /open/],
    ['markup in the style of a drawing', '<svg><style><b></style></svg>', /drawing/],
  ])('refuses too much %s', (_name, html, problem) => {
    expect(htmlProblem(html)).toMatch(problem);
  });

  test.each([
    ['comments', '<!-- <div> --><!--><p><!---><!-- > --!><p>', 2],
    ['attribute values', `<a title="<div><div>" alt='<div>' x=<div>y`, 1],
    ['scripts, styles and titles', '<style>a<div>b</style><title><div></title><script>"<div>"</script>', 3],
    ['declarations and instructions', '<!doctype html><?xml <div?></><!x <div>', 0],
  ])('does not take tags in %s for elements', (_name, html, elements) => {
    expect(htmlCost(html).elements).toBe(elements);
  });

  // One that takes quadratic time does not come to its end within the time of a test.
  test.each(['<', '<!--', '<a b="', '<style>', '<title><b x=', '</', '<script<', '<a ', '="', '<b>', '</b><!'])(
    'comes to its end with very many of %s',
    (piece) => {
      const html = piece.repeat(Math.floor(400_000 / piece.length));
      expect(htmlCost(html).elements).toBeLessThanOrEqual(html.length);
      expect(textOutsideTags(html).length).toBeLessThanOrEqual(html.length);
    },
  );
});

const NAMES = [
  'b',
  'i',
  'a',
  'font',
  'p',
  'div',
  'table',
  'tr',
  'td',
  'ul',
  'li',
  'br',
  'span',
  'h1',
  'nobr',
  'button',
];
const soup = fc
  .array(
    fc.oneof(
      { weight: 5, arbitrary: fc.tuple(fc.constantFrom(...NAMES), fc.nat(3)).map(([name, n]) => `<${name} x=${n}>`) },
      { weight: 3, arbitrary: fc.constantFrom(...NAMES).map((name) => `</${name}>`) },
      { weight: 2, arbitrary: fc.constantFrom('x', ' ', '<!-- <b> -->', '<style><b></style>', '<title>', '</title>') },
    ),
    { maxLength: 120 },
  )
  .map((pieces) => pieces.join(''));

describe('htmlCost', () => {
  test('never says less than what a parser of the standard makes', () => {
    fc.assert(
      fc.property(fc.oneof(soup, messageHtml), (html) => {
        const { elements, reopened, depth } = htmlCost(html);
        const tree = parse(html);
        const tags = (html.match(/</g) ?? []).length;
        // Each tag may imply two more (a table's body and row), an end tag an element; a document has three of its own.
        expect([...elementsOf(tree)].length).toBeLessThanOrEqual(3 * tags + 8 * tags + reopened + 3);
        expect(elements).toBeLessThanOrEqual(tags);
        expect(depthOf(tree)).toBeLessThanOrEqual(5 * (depth + 1) + reopened + 3);
      }),
      { numRuns: 600 },
    );
  });

  test('counts what a parser makes of unclosed formatting, to the order of magnitude', () => {
    const html = `<p>${numbered(100, (n) => `<b x=${n}>`)}${'<p>x'.repeat(100)}`;
    const made = [...elementsOf(parse(html))].length;
    expect(made).toBeGreaterThan(10_000);
    expect(htmlCost(html).reopened).toBeGreaterThanOrEqual(made - 300);
    expect(htmlCost(html).reopened).toBeLessThan(2 * made);
  });
});

describe('textOutsideTags', () => {
  test('keeps the words, a line for each block', () => {
    expect(textOutsideTags('<style>p{}</style><p>Dear&nbsp;Ines,<p>2 &lt; 3 &amp;amp; <b x="y">so</b> on<br>bye')).toBe(
      'Dear Ines,\n2 < 3 &amp; so on\nbye',
    );
  });
});

function depthOf(root: Tree.ParentNode): number {
  let deepest = 0;
  const waiting: [Tree.ParentNode, number][] = [[root, 0]];
  for (let next = waiting.pop(); next; next = waiting.pop()) {
    deepest = Math.max(deepest, next[1]);
    for (const child of next[0].childNodes) if ('childNodes' in child) waiting.push([child, next[1] + 1]);
  }
  return deepest;
}
