import fc from 'fast-check';
import { submittedLetter, whyUntracked } from '@kiraku/server/messages/submittedLetter';
import { decodePart, encodePart } from '@kiraku/server/mime/encoding';
import { fieldValue, withoutFields } from '@kiraku/server/mime/header';
import { isTextPart, joinMail, splitMail, type TextPart } from '@kiraku/server/mime/split';
import { planLetter, unweave } from '@kiraku/core/tracking';

const TRACKING = { trackOpens: true, trackLinks: true, disclose: false, deliveryReceipt: false, readReceipt: false };

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
    body: encodePart(part, Buffer.from(html)),
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

test('in a woven mail only the text of HTML parts differs, and unwoven it is the original', async () => {
  await fc.assert(
    fc.asyncProperty(tree, async (given) => {
      const mail = await splitMail(mailOf(given));
      const letter = submittedLetter(mail, '<1@x.example>', TRACKING, 'x');
      const url = (position: number) => `https://door.example/l/${String(position).padStart(22, 'A')}`;
      const imageUrl = `https://door.example/i/${'I'.repeat(22)}.gif`;
      const made = await letter.make({
        messageIdHeader: '<1@x.example>',
        imageUrl: letter.trackOpens ? imageUrl : null,
        linkUrls: letter.links.map(({ position }) => url(position)),
        fileUrls: new Map(),
        optOutUrl: null,
      });
      const woven = await splitMail(made);
      expect(woven.header).toBe(mail.header);
      expect(woven.pieces).toHaveLength(mail.pieces.length);
      if (whyUntracked(mail) !== null) return expect(made.equals(joinMail(mail))).toBe(true);
      expect(
        made.toString('latin1').split(imageUrl).length - 1 + encodedImages(woven.pieces, imageUrl),
      ).toBeGreaterThan(0);
      mail.pieces.forEach((piece, index) => {
        const other = woven.pieces[index]!;
        if (!isTextPart(piece) || piece.mediaType !== 'text/html') return expect(other).toEqual(piece);
        const text = decodePart(other as TextPart).toString('latin1');
        const links = [...text.matchAll(/https:\/\/door\.example\/l\/A*(\d+)/g)].map(([found]) => found);
        const original = decodePart(piece).toString('latin1');
        const values = planLetter(original).links.map(({ start, end }) => original.slice(start, end));
        expect(links).toHaveLength(values.length);
        expect(unweave(text, imageUrl, new Map(links.map((link, at) => [link, values[at]!])))).toBe(original);
      });
    }),
    { numRuns: 300 },
  );
});

function encodedImages(pieces: (Buffer | TextPart)[], imageUrl: string): number {
  return pieces.filter(isTextPart).filter((part) => decodePart(part).includes(imageUrl)).length;
}

test('fields are read unfolded, and removed with their folds, whatever their case', () => {
  const header = 'A: 1\r\nbcc : x@y.example,\r\n\tz@y.example\r\nB: 2\r\nBCC: w\r\n\r\n';
  expect(fieldValue(header, 'Bcc')).toBe('x@y.example,\tz@y.example');
  expect(withoutFields(header, ['Bcc'])).toBe('A: 1\r\nB: 2\r\n\r\n');
});
