import { createHash } from 'node:crypto';
import { existsSync, readdirSync, writeFileSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FileView } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { ContentStore } from '@kiraku/server/files/contentStore';
import { FilesService } from '@kiraku/server/files/files.service';
import yazl from 'yazl';
import { to, desk, mail, useDesk } from '../harness.js';
import { beginUpload, carried, fileLinks, goOnUpload, opened, pdf, upload } from './library.js';

useDesk('all');

const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
const kept = (bytes: Buffer) => join(desk.config.dataDir, 'files', sha256(bytes).slice(0, 2), sha256(bytes));

/** A ZIP archive with these entries. */
async function zip(entries: [name: string, bytes: Buffer][]): Promise<Buffer> {
  const archive = new yazl.ZipFile();
  for (const [name, bytes] of entries) archive.addBuffer(bytes, name, { compress: true });
  archive.end();
  const chunks: Buffer[] = [];
  for await (const chunk of archive.outputStream) chunks.push(chunk as Buffer);
  return Buffer.concat(chunks);
}

const CONTENT_TYPES =
  '<?xml version="1.0" encoding="UTF-8"?><Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">' +
  '<Override PartName="/word/document.xml" ContentType="application/vnd.openxmlformats-officedocument.wordprocessingml.document.main+xml"/></Types>';

const docx = (...more: [string, Buffer][]) =>
  zip([
    ['[Content_Types].xml', Buffer.from(CONTENT_TYPES)],
    ['word/document.xml', Buffer.from('<w:document/>')],
    ...more,
  ]);

/** A PDF whose page tree is as it says, with very many objects beside it. */
function pdfOfManyObjects(objects: number): Buffer {
  const parts = [
    '%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj\n',
  ];
  parts.push('3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 9 9]>>endobj\n');
  for (let n = 4; n < objects; n += 1) parts.push(`${n} 0 obj<</A[${n - 1} 0 R]>>endobj\n`);
  parts.push('trailer<</Root 1 0 R>>\n%%EOF');
  return Buffer.from(parts.join(''));
}

test.each<[string, () => Promise<Buffer> | Buffer, Partial<FileView['versions'][number]>, RegExp | null]>([
  ['a page of HTML', () => Buffer.from('<html><script>alert(1)</script>'), { kind: 'other' }, /only be downloaded/],
  [
    'a drawing with a script',
    () => Buffer.from('<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'),
    { kind: 'other' },
    /only be downloaded/,
  ],
  [
    'something that begins like a PDF',
    () => Buffer.from('%PDF-1.7\nand nothing else'),
    { kind: 'pages', pages: null },
    /damaged/,
  ],
  [
    'a locked PDF',
    () => pdf(2, 'a password'),
    { kind: 'pages', preparation: 'download-only' },
    /locked with a password/,
  ],
  [
    'half a PDF',
    async () => (await pdf(30)).subarray(0, 4000),
    { kind: 'pages', pages: null, preparation: 'download-only' },
    /damaged/,
  ],
  [
    'a document that unpacks to a thousand times its size',
    async () => docx(['word/media/a.bin', Buffer.alloc(600 * 1024 * 1024)]),
    { kind: 'office', preparation: 'download-only' },
    /unpacks to far more/,
  ],
  [
    'an archive with a path that leads out of it',
    async () => {
      const archive = (await zip([['xx/xx/evil', Buffer.from('x')]])).toString('latin1');
      // The library writes no such name; somebody else does.
      const evil = Buffer.from(archive.replaceAll('xx/xx/evil', '../../evil'), 'latin1');
      expect(evil.includes('../../evil')).toBe(true);
      return evil;
    },
    { kind: 'other' },
    /only be downloaded/,
  ],
  [
    'a picture that says it is one',
    () => Buffer.from('89504e470d0a1a0a0000000d49484452ffffffffffffffff0806000000', 'hex'),
    { kind: 'picture' },
    null,
  ],
])(
  '%s, named .pdf, is called what it is, and can be taken along as it came',
  async (_what, make, expected, problem) => {
    const bytes = await make();
    const file = await upload(desk, 'proposal.pdf', bytes);
    expect(file.versions[0]).toMatchObject({ size: bytes.length, ...expected });
    if (problem) expect(file.versions[0]!.problem ?? '').toMatch(problem);
    const saved = await desk.call('GET', `/api/files/versions/${file.versions[0]!.id}/content?save`);
    expect(saved.headers.get('content-type')).toBe('application/octet-stream');
    expect(saved.headers.get('content-disposition')).toMatch(/^attachment/);
    expect(saved.headers.get('x-content-type-options')).toBe('nosniff');
    expect(Buffer.from(await saved.arrayBuffer()).equals(bytes)).toBe(true);
  },
  60_000,
);

test('a PDF of a million objects is refused or shown, and the desk goes on working', async () => {
  const before = process.memoryUsage().rss;
  const [file, health] = await Promise.all([
    upload(desk, 'many.pdf', pdfOfManyObjects(1_000_000)),
    desk.call('GET', '/health'),
  ]);
  expect(health.status).toBe(200);
  expect(file.versions[0]).toMatchObject({ preparation: 'ready', pages: 1 });
  // It was read by another process.
  expect(process.memoryUsage().rss - before).toBeLessThan(400 * 1024 * 1024);
}, 90_000);

test('of a page of a mile a picture of bounded size is made; what is locked has none', async () => {
  const first = ({ versions }: FileView) =>
    desk.sqlite.prepare('select first_page_sha256 from file_version where id = ?').pluck().get(versions[0]!.id) as
      string | null;
  const wide = pdfOfManyObjects(4).toString('latin1').replace('[0 0 9 9]', '[0 0 4561920 2280960]');
  const sha = first(await upload(desk, 'wide.pdf', Buffer.from(wide, 'latin1')));
  const picture = await readFile(join(desk.config.dataDir, 'files', sha!.slice(0, 2), sha!));
  // Its size, less one, stands in the extended header (RFC 9649, section 2.7).
  const [width, height] = [picture.readUIntLE(24, 3) + 1, picture.readUIntLE(27, 3) + 1];
  expect(Math.round(width / height)).toBe(2);
  expect(width * height).toBeLessThan(4_010_000);
  expect(first(await upload(desk, 'locked.pdf', await pdf(2, 'a password')))).toBeNull();
}, 60_000);

test.each<[string, string, string | RegExp]>([
  ['a path', '../../../etc/passwd', 'passwd'],
  ['a name that turns around', 'proposal\u202Efdp.exe', 'proposalfdp.exe'],
  ['a very long name', `${'long '.repeat(100)}.pdf`, /^(long )+lo?n?g?\.pdf$/],
  ['a header', 'a"; filename="b.exe', 'a ; filename= b.exe'],
])('%s is kept as the name of a file', async (_what, given, name) => {
  const file = await upload(desk, given, Buffer.from('x'));
  if (typeof name === 'string') expect(file.name).toBe(name);
  else expect(file.name).toMatch(name);
  expect(file.name.length).toBeLessThanOrEqual(120);
});

describe('on the way in', () => {
  test('what was broken off goes on where it was', async () => {
    const bytes = await pdf(5);
    const begun = await beginUpload(desk, 'Broken off.pdf', bytes.length);
    const path = begun.headers.get('location')!;
    expect((await goOnUpload(desk, path, bytes.subarray(0, 700))).status).toBe(204);
    const head = await fetch(desk.url + path, {
      method: 'HEAD',
      headers: { ...desk.headers, 'Tus-Resumable': '1.0.0' },
    });
    expect(head.headers.get('upload-offset')).toBe('700');
    expect((await goOnUpload(desk, path, bytes.subarray(500), 500)).status).toBe(409);
    const ended = await goOnUpload(desk, path, bytes.subarray(700), 700);
    expect(((await ended.json()) as FileView).name).toBe('Broken off.pdf');
    expect((await readFile(kept(bytes))).equals(bytes)).toBe(true);
    expect(readdirSync(join(desk.config.dataDir, 'files', 'incoming', 'uploads'))).toEqual([]);
  });

  test('more than the settings allow is refused before it comes, in words', async () => {
    const refused = await beginUpload(desk, 'huge.mp4', 3 * 1024 ** 3);
    expect(refused.status).toBe(413);
    expect(((await refused.json()) as { detail: string }).detail).toContain('Files may have up to 100 MB');
  });

  test('an empty file is refused, in words', async () => {
    const refused = await beginUpload(desk, 'empty.pdf', 0);
    expect(refused.status).toBe(422);
    expect(((await refused.json()) as { detail: string }).detail).toContain('This file is empty');
  });

  test('only who is signed in may send anything', async () => {
    const refused = await fetch(`${desk.url}/api/uploads`, {
      method: 'POST',
      headers: { 'Tus-Resumable': '1.0.0', 'Upload-Length': '5' },
    });
    expect(refused.status).toBe(401);
  });

  test.each(['../../kiraku.sqlite', '..%2f..%2fkiraku.sqlite', 'a/b', 'x'.repeat(5000)])(
    '%s is no upload',
    async (id) => {
      const response = await goOnUpload(desk, `/api/uploads/${id}`, Buffer.from('x'));
      expect(response.status).toBeGreaterThanOrEqual(400);
      expect(response.status).toBeLessThan(500);
    },
  );
});

describe('the store', () => {
  test('keeps the same bytes once, and says when they are not what they were', async () => {
    const bytes = Buffer.from('the same bytes');
    await upload(desk, 'one.txt', bytes);
    await upload(desk, 'two.txt', bytes);
    const store = desk.get(ContentStore);
    expect(await store.isWhole(sha256(bytes))).toBe(true);
    writeFileSync(kept(bytes), 'other bytes...');
    expect(await store.isWhole(sha256(bytes))).toBe(false);
    await desk.close();
    await desk.open();
    const { versions } = (await desk.json<FileView[]>('GET', '/api/files')).find(({ name }) => name === 'one.txt')!;
    const response = await desk.call('GET', `/api/files/versions/${versions[0]!.id}/content`);
    expect([response.status, await response.text()]).toEqual([410, expect.stringContaining('Restore from a backup')]);
  });

  test('lets go of what was deleted a day ago, and of nothing that somebody was sent', async () => {
    const [gone, sent, drafted] = ['gone', 'sent', 'drafted'].map((text) => Buffer.from(`bytes of ${text}`)) as [
      Buffer,
      Buffer,
      Buffer,
    ];
    const files = await Promise.all([
      upload(desk, 'gone', gone),
      upload(desk, 'sent', sent),
      upload(desk, 'drafted', drafted),
    ]);
    const { id } = await desk.send({ recipients: [to('marit@lindqvist.example')], files: [carried(files[1]!.id)] });
    await desk.sent(id);
    const draft = { recipients: [], subject: '', html: '<p>x</p>', trackOpens: true, trackClicks: true };
    await desk.json('POST', '/api/drafts', { ...draft, files: [carried(files[2]!.id)] });
    for (const file of files) await desk.call('DELETE', `/api/files/${file.id}`);
    await desk.get(FilesService).deleteExpired();
    expect([gone, sent, drafted].map((bytes) => existsSync(kept(bytes)))).toEqual([true, true, true]);
    desk.clock.advance(2 * DAY);
    const { utimesSync } = await import('node:fs');
    for (const bytes of [gone, sent, drafted]) utimesSync(kept(bytes), new Date(0), new Date(0));
    await desk.get(FilesService).deleteExpired();
    expect([gone, sent, drafted].map((bytes) => existsSync(kept(bytes)))).toEqual([false, true, true]);
    const shown = await opened(await desk.visit(fileLinks(mail.to('marit@lindqvist.example'))[0]!));
    expect((await desk.visit(desk.config.publicUrl + shown.download!)).status).toBe(200);
  });
});

test.each([
  ['page.html', '<html><script>alert(1)</script>', 'text/html'],
  ['drawing.svg', '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>', 'image/svg+xml'],
  ['script.js', 'alert(1)', 'text/javascript'],
  ['sheet.css', 'body { color: red }', 'text/css'],
  [
    'data.xml',
    '<?xml version="1.0"?><x xmlns="http://www.w3.org/1999/xhtml"><script>alert(1)</script></x>',
    'text/xml',
  ],
])('%s runs nowhere: neither at the desk nor at the public site, whatever it is called', async (name, text, type) => {
  const file = await upload(desk, name, Buffer.from(text));
  const version = file.versions[0]!.id;
  // As it would stand if a library had taken it for what it claims to be.
  for (const stored of [null, type]) {
    if (stored) desk.sqlite.prepare('update file_version set media_type = ? where id = ?').run(stored, version);
    const { id } = await desk.send({ recipients: [to('otis@lindqvist.example')], files: [carried(file.id)] });
    await desk.sent(id);
    const url = fileLinks(mail.received.findLast((one) => one.to.includes('otis@lindqvist.example'))!)[0]!;
    const replies = [
      await desk.call('GET', `/api/files/versions/${version}/content`),
      await desk.visit(`${url}/content`),
      await desk.visit(`${url}/download`),
    ];
    for (const response of replies.filter(({ status }) => status === 200)) {
      expect(response.headers.get('content-type')).toBe('application/octet-stream');
      expect(response.headers.get('content-security-policy')).toBe("default-src 'none'; sandbox");
      expect(response.headers.get('x-content-type-options')).toBe('nosniff');
    }
    expect(replies.map(({ status }) => status)).toEqual([200, expect.any(Number), 200]);
  }
});
