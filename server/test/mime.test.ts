import fc from 'fast-check';
import { submittedMessage, whyUntracked } from '@kiraku/server/messages/submittedMessage';
import { decodePart, encodePart, isKnownEncoding } from '@kiraku/server/mime/encoding';
import { charsetOf, withEncodedQuery } from '@kiraku/server/mime/charset';
import { repairMail } from '@kiraku/server/mime/repair';
import { fieldValue, withoutFields } from '@kiraku/server/mime/header';
import { isTextPart, joinMail, splitMail, type TextPart } from '@kiraku/server/mime/split';
import { wholeMail } from '@kiraku/server/delivery/mailBytes';
import { planInstrumenting, removeInstrumenting } from '@kiraku/core/tracking';

const TRACKING = { trackOpens: true, trackClicks: true, disclose: false, requestDsn: false, requestMdn: false };

/** Lines of any octets but CR, LF and NUL; no line can be taken for a boundary, which begin with “--=”. */
const octetLine = fc
  .uint8Array({ maxLength: 90 })
  .map((bytes) => Buffer.from(bytes.filter((octet) => octet !== 0 && octet !== 10 && octet !== 13)))
  .map((bytes) => (bytes.toString('latin1').startsWith('--=') ? Buffer.from('x') : bytes));
const octets = fc
  .array(octetLine, { maxLength: 8 })
  .map((lines) => Buffer.concat(lines.flatMap((line) => [line, Buffer.from('\r\n')])));

const markup = fc
  .array(
    fc.oneof(
      fc.constantFrom(
        '<p>',
        '</p>',
        '<br>',
        '<!-- c -->',
        '&amp;',
        ' = ',
        'grüße',
        '\r\n',
        '<td',
        '<img src="cid:a@b">',
      ),
      fc.webUrl().map((url) => `<a href="${url.replace(/&/g, '&amp;')}">go</a>`),
      fc.webUrl({ withQueryParameters: true }).map((url) => `<A HREF='${url.replace(/'/g, '%27')}'>go</A>`),
    ),
    { minLength: 1, maxLength: 12 },
  )
  .map((pieces) => `<html><body>${pieces.join('')}</body></html>`);

const encoding = fc.constantFrom('', '7bit', '8bit', 'quoted-printable', 'base64');

interface Tree {
  header: string;
  body: Buffer;
}

const htmlLeaf = fc.tuple(markup, encoding).map(([html, cte]): Tree => {
  const part = { encoding: cte, body: Buffer.from('\r\n') };
  return {
    header: `Content-Type: text/html; charset=utf-8\r\n${cte && `Content-Transfer-Encoding: ${cte}\r\n`}`,
    body: encodePart(part, Buffer.from(html)).body,
  };
});
const otherLeaf = fc
  .tuple(
    fc.constantFrom('text/plain', 'image/png', 'application/pdf', 'text/calendar', 'message/rfc822', 'text/html'),
    octets,
  )
  .map(([type, body]): Tree => ({
    header: `Content-Type: ${type}\r\nContent-Disposition: attachment;\r\n filename="a b"\r\n`,
    body,
  }));

const { tree } = fc.letrec<{ tree: Tree }>((tie) => ({
  tree: fc.oneof(
    { maxDepth: 4 },
    htmlLeaf,
    otherLeaf,
    fc
      .tuple(
        fc.constantFrom('mixed', 'alternative', 'related'),
        fc.array(tie('tree'), { minLength: 1, maxLength: 4 }),
        fc.stringMatching(/^[a-z0-9]{1,12}$/),
        octets,
      )
      .map(([kind, children, name, around]) => multipart(kind, children, `=_${name}`, around)),
  ),
}));

function multipart(kind: string, children: Tree[], name: string, around: Buffer): Tree {
  // A boundary that stands in a child already would end it too early.
  const inside = Buffer.concat(children.flatMap((child) => [Buffer.from(child.header), child.body]));
  let boundary = name;
  while (inside.includes(`--${boundary}`)) boundary += 'x';
  const parts = children.flatMap(({ header, body }) => [
    Buffer.from(`--${boundary}\r\n${header}\r\n`),
    body,
    Buffer.from('\r\n'),
  ]);
  return {
    header: `Content-Type: multipart/${kind};\r\n\tboundary="${boundary}"\r\n`,
    body: Buffer.concat([around, ...parts, Buffer.from(`--${boundary}--\r\n`), around]),
  };
}

const mailOf = ({ header, body }: Tree) =>
  Buffer.concat([Buffer.from(`From: ines@tallowreed.example\r\nX-Odd:  a\r\n\tb  \r\n${header}\r\n`), body]);

test('any mail, taken apart and put together, is the same', async () => {
  await fc.assert(
    fc.asyncProperty(tree, async (given) => {
      const raw = mailOf(given);
      expect(joinMail(await splitMail(raw)).equals(raw)).toBe(true);
    }),
    { numRuns: 300 },
  );
});

test('any octets at all, too', async () => {
  await fc.assert(
    fc.asyncProperty(fc.uint8Array({ maxLength: 400 }), async (bytes) => {
      const raw = Buffer.from(bytes);
      expect(joinMail(await splitMail(raw)).equals(raw)).toBe(true);
    }),
    { numRuns: 300 },
  );
});

test('in an instrumented mail only the text of HTML parts differs, and with its tracking removed it is the original', async () => {
  await fc.assert(
    fc.asyncProperty(tree, async (given) => {
      const mail = await splitMail(mailOf(given));
      const outgoing = submittedMessage(mail, '<1@x.example>', TRACKING, 'x', { from: '', to: [] });
      const url = (position: number) => `https://door.example/l/${String(position).padStart(22, 'A')}`;
      const imageUrl = `https://door.example/i/${'I'.repeat(22)}.gif`;
      const copy = await outgoing.make({
        messageIdHeader: '<1@x.example>',
        imageUrl: outgoing.trackOpens ? imageUrl : null,
        linkUrls: outgoing.links.map(({ position }) => url(position)),
        fileUrls: new Map(),
        optOutUrl: null,
      });
      const made = wholeMail(copy, outgoing.shared);
      for (const line of made.toString('latin1').split('\r\n')) expect(line.length).toBeLessThanOrEqual(998);
      const instrumented = await splitMail(made);
      expect(withoutEncoding(instrumented.header)).toBe(withoutEncoding(mail.header));
      expect(instrumented.pieces).toHaveLength(mail.pieces.length);
      if (whyUntracked(mail) !== null) return expect(made.equals(joinMail(mail))).toBe(true);
      expect(
        made.toString('latin1').split(imageUrl).length - 1 + encodedImages(instrumented.pieces, imageUrl),
      ).toBeGreaterThan(0);
      mail.pieces.forEach((piece, index) => {
        const other = instrumented.pieces[index]!;
        if (!isTextPart(piece) || piece.mediaType !== 'text/html') return expect(other).toEqual(piece);
        expect(withoutEncoding((other as TextPart).header)).toBe(withoutEncoding(piece.header));
        const text = decodePart(other as TextPart).toString('latin1');
        const links = [...text.matchAll(/https:\/\/door\.example\/l\/A*(\d+)/g)].map(([found]) => found);
        const original = decodePart(piece).toString('latin1');
        const values = planInstrumenting(original).links.map(({ start, end }) => original.slice(start, end));
        expect(links).toHaveLength(values.length);
        const originals = new Map(links.map((link, at) => [link, values[at]!]));
        const own = { isImage: (src: string) => src === imageUrl, originalOf: (href: string) => originals.get(href) };
        expect(removeInstrumenting(text, own)).toBe(original);
      });
    }),
    { numRuns: 300 },
  );
});

const withoutEncoding = (header: string) => withoutFields(header, ['Content-Transfer-Encoding']);

function encodedImages(pieces: (Buffer | TextPart)[], imageUrl: string): number {
  return pieces.filter(isTextPart).filter((part) => decodePart(part).includes(imageUrl)).length;
}

test('fields are read unfolded, and removed with their folds, whatever their case', () => {
  const header = 'A: 1\r\nbcc : x@y.example,\r\n\tz@y.example\r\nB: 2\r\nBCC: w\r\n\r\n';
  expect(fieldValue(header, 'Bcc')).toBe('x@y.example,\tz@y.example');
  expect(withoutFields(header, ['Bcc'])).toBe('A: 1\r\nB: 2\r\n\r\n');
});

describe('a mail that parsers read differently', () => {
  const crlf = (text: string) => text.replace(/\n/g, '\r\n');
  const repaired = (text: string) =>
    repairMail(Buffer.from(crlf(text), 'latin1'))
      .toString('latin1')
      .replace(/\r\n/g, '\n');
  const HEAD = 'Content-Type: multipart/mixed; boundary=outer\n\n';
  const INNER = '--outer\nContent-Type: multipart/alternative;\n boundary="in ner"\n\n--in ner\n\nhello\n';

  test.each([
    [
      'an inner multipart that the next delimiter ends',
      `${HEAD}${INNER}--outer\n\nx\n--outer--\n`,
      '--in ner--\n--outer\n\nx',
    ],
    ['one that the end of the outer ends', `${HEAD}${INNER}--outer--\n`, '--in ner--\n--outer--\n'],
    ['blanks after a delimiter', `${HEAD}--outer \t\n\nx\n--outer--  \n`, `${HEAD}--outer\n\nx\n--outer--\n`],
    ['the line that mailboxes in one file have', `From a@b.example Mon\n${HEAD}--outer--\n`, `${HEAD}--outer--\n`],
  ])('%s', (_name, given, expected) => {
    expect(repaired(given)).toContain(expected);
    expect(repaired(repaired(given))).toBe(repaired(given));
  });

  test.each([
    ['one that is as it should be', `${HEAD}${INNER}--in ner--\n--outer--\n`],
    ['what only looks like a delimiter', `${HEAD}--outer\n\n--outermost\n--inner \n--outer--\n`],
    [
      'what is signed',
      'Content-Type: multipart/signed; boundary=s\n\n--s\nContent-Type: multipart/mixed; boundary=m\n\n--m \n\nx\n--m--\n--s--\n',
    ],
    [
      'an unclosed multipart within what is signed',
      `Content-Type: multipart/signed; boundary=s\n\n--s\n${HEAD}--outer\n\nx\n--s\n\nsignature\n--s--\n`,
    ],
    ['what is encrypted', 'Content-Type: multipart/encrypted; boundary=e\n\n--e \n\nx\n--e--  \n'],
    ['no mail at all', 'no mail at all'],
    ['nothing', ''],
  ])('%s stays as it is', (_name, given) => {
    expect(repaired(given)).toBe(given);
  });

  test('whatever the octets, nothing but such lines is changed', async () => {
    await fc.assert(
      fc.asyncProperty(tree, async (given) => {
        const raw = mailOf(given);
        expect(repairMail(raw).equals(raw)).toBe(true);
      }),
    );
  });
});

describe('the charset of a part', () => {
  const html = (charset: string, content: string | Buffer) =>
    charsetOf({ charset, mediaType: 'text/html' }, Buffer.from(content as string));
  test('is that of its mark, else of its header, else of its document', () => {
    expect(html('windows-1252', '\ufeff<p>x</p>')).toBe('utf-8');
    expect(html('windows-1252', '<meta charset=utf-8>')).toBe('windows-1252');
    expect(html('', '<meta charset="Shift_JIS">')).toBe('shift_jis');
    expect(html('', '<meta http-equiv=content-type content="text/html; charset=koi8-r">')).toBe('koi8-r');
    expect(html('', `${' '.repeat(1100)}<meta charset=utf-8>`)).toBe('us-ascii');
    expect(charsetOf({ charset: '', mediaType: 'text/plain' }, Buffer.from('<meta charset=utf-8>'))).toBe('us-ascii');
  });

  test.each([
    ['windows-1252', 'https://x.example/ä?q=ä€#ä', 'https://x.example/ä?q=%E4%80#ä'],
    ['koi8-r', '/?q=да', '/?q=%C4%C1'],
    ['shift_jis', '/?q=日', '/?q=%93%FA'],
    ['windows-1252', '/?q=日', '/?q=%26%2326085%3B'],
    ['utf-8', '/?q=ä', '/?q=ä'],
    ['windows-1252', '/ä', '/ä'],
  ])('%s decides how the query of %s is asked for', (charset, href, expected) => {
    expect(withEncodedQuery(href, charset)).toBe(expected);
  });
});

test.each(['', '7bit', '8bit', 'binary', 'base64', 'quoted-printable'])(
  '“%s” is an encoding that is known',
  (encoding) => {
    expect(isKnownEncoding(encoding)).toBe(true);
    expect(isKnownEncoding(`x-${encoding}`)).toBe(false);
  },
);
