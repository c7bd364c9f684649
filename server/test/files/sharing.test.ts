import { connect } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';
import type {
  FileReadings,
  FileView,
  LiveUpdate,
  MessageDetail,
  SentFile,
  TemplateView,
  Visit,
} from '@kiraku/core/contract';
import { AS_LINK } from '@kiraku/core/files';
import { DAY, MINUTE, SECOND } from '@kiraku/core/time';
import { LiveService } from '@kiraku/server/notifications/live.service';
import { Retention } from '@kiraku/server/privacy/retention';
import { kinds, READER, to, desk, mail, useDesk } from '../harness.js';
import { carried, fileLinks, opened, pdf, upload } from './library.js';

const MARIT = 'marit@lindqvist.example';
const OTIS = 'otis@lindqvist.example';

let file: FileView;
useDesk('each', async () => {
  file = await upload(desk, 'Proposal.pdf', await pdf(12));
});

/** A message with a document of twelve pages, a minute after it left. */
async function sent(change = {}, recipients = [to(MARIT, 'Marit Oakes')]): Promise<{ id: number; url: string }> {
  const { id } = await desk.send({ recipients, files: [carried(file.id, change)] });
  await desk.sent(id);
  desk.clock.advance(MINUTE);
  return { id, url: fileLinks(mail.to(MARIT))[0]! };
}

const report = (url: string, body: unknown) =>
  desk.visit(url, { method: 'POST', body: typeof body === 'string' ? body : JSON.stringify(body) });

const told = async (url: string, reading: string, visits: Visit[], active = true) =>
  (await report(`${url}/reading`, { reading, active, visits })).status;

const sums = ({ events }: MessageDetail) =>
  events
    .filter(({ kind }) => kind === 'page_viewed')
    .map(({ page, readMs, counted }) => [page, readMs, counted])
    .reverse();

test('a file travels as a link of the copy’s own, named in words, in HTML and in plain text', async () => {
  const recipients = [to(MARIT, 'Marit Oakes'), to(OTIS, 'Otis Brandt')];
  const { id, url } = await sent({}, recipients);
  const outgoing = mail.to(MARIT);
  expect(fileLinks(mail.to(OTIS))[0]).not.toBe(url);
  expect(String(outgoing.parsed.html)).toContain('PDF, ');
  expect(String(outgoing.parsed.html)).toMatch(/<a href="[^"]+">Proposal<\/a>/);
  expect(outgoing.parsed.text).toContain(url);
  expect(outgoing.raw.toString()).not.toMatch(/data-file|\.invalid/);
  expect((await desk.detail(id)).files).toMatchObject([{ name: 'Proposal.pdf', version: { pages: 12 }, views: 0 }]);
});

test('stands where the message has a place for it, beside links that go on leading to their own targets', async () => {
  const file = await upload(desk, 'Proposal.pdf', await pdf(2));
  const html = `<p>First <a href="https://a.example/">one</a></p><p data-file="${file.id}">Proposal</p><p>then <a href="https://b.example/">two</a></p>`;
  const { id } = await desk.send({ recipients: [to(MARIT)], html, files: [carried(file.id)], disclose: true });
  await desk.sent(id);
  const body = String(mail.to(MARIT).parsed.html);
  const order = [...body.matchAll(/<a href="http[^"]+\/([lfo])\//g)].map(([, kind]) => kind);
  expect(order).toEqual(['l', 'f', 'l', 'o']);
  const links = [...body.matchAll(/<a href="(http[^"]+\/l\/[^"]+)"/g)].map(([, url]) => url!);
  const targets = await Promise.all(links.map(async (link) => (await desk.visit(link)).headers.get('location')));
  expect(targets).toEqual(['https://a.example/', 'https://b.example/']);
});

test('the ordinary way it is a part of the mail, and is not tracked', async () => {
  const bytes = await pdf(1);
  const file = await upload(desk, 'Preisliste für Ängström.pdf', bytes);
  const { id } = await desk.send({ recipients: [to(MARIT)], files: [carried(file.id, { way: 'attachment' })] });
  await desk.sent(id);
  const { parsed } = mail.to(MARIT);
  expect(parsed.attachments).toMatchObject([
    { filename: 'Preisliste für Ängström.pdf', contentType: 'application/pdf', size: bytes.length },
  ]);
  expect(parsed.attachments[0]!.content.equals(bytes)).toBe(true);
  expect(parsed.text).toContain('the proposal');
  expect((await desk.detail(id)).files).toEqual([]);
});

test('opening counts as a view by its recipient, and proves that the message was read', async () => {
  const { id, url } = await sent();
  const response = await desk.visit(url);
  expect(response.status).toBe(200);
  expect(response.headers.get('set-cookie')).toBeNull();
  expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
  const detail = await desk.detail(id);
  expect(kinds(detail.events)).toEqual(['file_viewed']);
  expect(detail.events[0]).toMatchObject({ label: 'Proposal.pdf', recipient: { address: MARIT }, userAgent: READER });
  expect(detail.summary.tally).toMatchObject({ fileViews: 1, opens: 0 });
  const { messages } = await desk.json<{ messages: { id: number }[] }>('GET', '/api/messages?show=viewed');
  expect(messages).toMatchObject([{ id }]);
});

test('its first page is there at once, as a picture that counts nothing', async () => {
  const { id, url } = await sent();
  const { firstPage } = await opened(await desk.visit(url));
  const picture = await desk.visit(desk.config.publicUrl + firstPage!);
  expect(picture.headers.get('content-type')).toBe('image/webp');
  const bytes = Buffer.from(await picture.arrayBuffer());
  // Its size, less one, stands in the extended header (RFC 9649, section 2.7).
  const size = [bytes.readUIntLE(24, 3) + 1, bytes.readUIntLE(27, 3) + 1];
  expect([bytes.toString('latin1', 8, 16), ...size]).toEqual(['WEBPVP8X', 1020, 1320]);
  expect(kinds((await desk.detail(id)).events)).toEqual(['file_viewed']);
});

test('what was read is written down page by page, however often and in whichever order it is reported', async () => {
  const { id, url } = await sent();
  const { report: how } = await opened(await desk.visit(url));
  const reading = how!.reading;
  desk.clock.advance(30 * SECOND);
  expect(await told(url, reading, [{ visit: 1, page: 1, ms: 4000 }])).toBe(204);
  const second = [
    { visit: 1, page: 1, ms: 9000 },
    { visit: 2, page: 3, ms: 7000 },
  ];
  expect(await told(url, reading, second)).toBe(204);
  expect(await told(url, reading, [{ visit: 1, page: 1, ms: 4000 }])).toBe(204);
  expect(await told(url, reading, second)).toBe(204);
  const detail = await desk.detail(id);
  expect(sums(detail)).toEqual([
    [1, 9000, true],
    [3, 7000, true],
  ]);
  expect(detail.summary.tally.fileViews).toBe(1);
  const { readings } = await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`);
  expect(readings).toMatchObject([
    {
      recipient: { address: MARIT },
      version: 1,
      counted: true,
      visits: [
        { page: 1, ms: 9000 },
        { page: 3, ms: 7000 },
      ],
    },
  ]);
});

test('nobody reads for longer than the window was open', async () => {
  const { id, url } = await sent();
  desk.clock.stop();
  const { report: how } = await opened(await desk.visit(url));
  desk.clock.advance(10 * SECOND);
  await told(url, how!.reading, [{ visit: 1, page: 1, ms: 25 * MINUTE }]);
  await told(url, how!.reading, [
    { visit: 2, page: 2, ms: 25 * MINUTE },
    { visit: 3, page: 13, ms: 1000 },
  ]);
  const [[page, ms] = []] = sums(await desk.detail(id));
  expect(page).toBe(1);
  expect(ms).toBeLessThanOrEqual(12 * SECOND);
  expect(sums(await desk.detail(id))).toHaveLength(1);
});

test.each([
  ['nothing', ''],
  ['no JSON', '{'],
  ['no visits', { reading: 'x' }],
  ['visits that are none', { reading: 'x', visits: [{ visit: '1', page: 1, ms: 1 }] }],
  [
    'more than anybody reads',
    { reading: 'x', visits: Array.from({ length: 121 }, () => ({ visit: 1, page: 1, ms: 1 })) },
  ],
  ['very much', 'x'.repeat(100_000)],
  ['deep nesting', `{"reading":"x","visits":${'['.repeat(100)}${']'.repeat(100)}}`],
])('a report of %s is refused', async (_what, body) => {
  const { url } = await sent();
  expect((await report(`${url}/reading`, body)).status).toBe(400);
});

test('a reading belongs to its copy: another’s address does not name it', async () => {
  const { id, url } = await sent({}, [to(MARIT), to(OTIS)]);
  const other = fileLinks(mail.to(OTIS))[0]!;
  const { report: how } = await opened(await desk.visit(url));
  desk.clock.advance(MINUTE);
  expect(await told(other, how!.reading, [{ visit: 1, page: 1, ms: 5000 }])).toBe(404);
  expect(await told(url, 'A'.repeat(22), [{ visit: 1, page: 1, ms: 5000 }])).toBe(404);
  expect(sums(await desk.detail(id))).toEqual([]);
});

test('two readers of one link stay apart', async () => {
  const { id, url } = await sent();
  const first = await opened(await desk.visit(url));
  desk.clock.advance(MINUTE);
  const second = await opened(
    await desk.visit(url, { headers: { 'user-agent': 'Mozilla/5.0 (Android 15; Mobile; rv:140.0)' } }),
  );
  desk.clock.advance(MINUTE);
  await told(url, first.report!.reading, [{ visit: 1, page: 1, ms: 5000 }]);
  await told(url, second.report!.reading, [{ visit: 1, page: 7, ms: 8000 }]);
  const { readings } = await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`);
  expect(readings.map(({ visits }) => visits.map(({ page }) => page))).toEqual([[7], [1]]);
});

describe('judged like everything else', () => {
  test('a scanner that opens it is not counted', async () => {
    const { id, url } = await sent();
    await desk.visit(url, { headers: { 'user-agent': 'LinkInspector/1.0 (+https://inspect.example/bot)' } });
    await desk.visit(url, { method: 'HEAD' });
    const detail = await desk.detail(id);
    expect(kinds(detail.events).sort()).toEqual(['file_viewed (not-get)', 'file_viewed (robot)']);
    expect(detail.summary.tally.fileViews).toBe(0);
  });

  test('what was only guessed to be a machine is somebody once they act, with all that they read', async () => {
    desk.clock.stop();
    const file = await upload(desk, 'Proposal.pdf', await pdf(3));
    const { id } = await desk.send({ recipients: [to(MARIT)], files: [carried(file.id)] });
    await desk.sent(id);
    const url = fileLinks(mail.to(MARIT))[0]!;
    desk.clock.advance(SECOND);
    const { report: how } = await opened(await desk.visit(url));
    desk.clock.advance(10 * SECOND);
    await told(url, how!.reading, [{ visit: 1, page: 1, ms: 3000 }], false);
    expect(kinds((await desk.detail(id)).events)).toEqual(['page_viewed (too-soon)', 'file_viewed (too-soon)']);
    const updates: LiveUpdate[] = [];
    const window = desk
      .get(LiveService)
      .subscribe(undefined, { isReady: () => true, send: (_, one) => updates.push(one) });
    await told(url, how!.reading, [{ visit: 2, page: 2, ms: 3000 }], true);
    window.unsubscribe();
    expect(updates.flatMap(({ notifications }) => notifications)).toMatchObject([
      { kind: 'file_viewed', by: ['page', 'desktop', 'push'] },
    ]);
    const detail = await desk.detail(id);
    expect(kinds(detail.events).sort()).toEqual(['file_viewed', 'page_viewed', 'page_viewed']);
    expect(detail.summary.tally).toMatchObject({ fileViews: 1, notCounted: 0 });
    expect(detail.files[0]!.views).toBe(1);
  });

  test('not counted by hand, its pages go with it', async () => {
    const { id, url } = await sent();
    const { report: how } = await opened(await desk.visit(url));
    desk.clock.advance(MINUTE);
    await told(url, how!.reading, [{ visit: 1, page: 1, ms: 3000 }]);
    const { events } = await desk.detail(id);
    const opening = events.find(({ kind }) => kind === 'file_viewed')!;
    await desk.call('PUT', `/api/events/${opening.eventId}/override`, { counted: false });
    const detail = await desk.detail(id);
    expect(kinds(detail.events).sort()).toEqual(['file_viewed (override)', 'page_viewed (override)']);
    expect(detail.summary.tally.fileViews).toBe(0);
    expect(detail.files[0]!.views).toBe(0);
  });

  test('who has declined can read it, and nothing is recorded', async () => {
    const { id, url } = await sent({ asksAddress: true }, [to(MARIT)]);
    desk.sqlite.prepare('update person set opted_out_at = 1').run();
    const file = await opened(await desk.visit(url));
    expect(file).toMatchObject({ shows: 'pages', report: null });
    expect((await desk.visit(desk.config.publicUrl + file.content)).status).toBe(200);
    expect((await desk.detail(id)).events).toEqual([]);
  });
});

describe('what holds for the link', () => {
  const change = async (id: number, set: object) => {
    const [file] = (await desk.detail(id)).files;
    return desk.json<SentFile>('PATCH', `/api/sent-files/${file!.id}`, set);
  };

  test('shown, and downloaded, by ranges', async () => {
    const { id, url } = await sent();
    const file = await opened(await desk.visit(url));
    const at = desk.config.publicUrl;
    const part = await desk.visit(at + file.content, { headers: { range: 'bytes=0-4' } });
    expect([part.status, await part.text(), part.headers.get('content-type')]).toEqual([
      206,
      '%PDF-',
      'application/pdf',
    ]);
    const whole = await desk.visit(at + file.download!);
    expect(whole.headers.get('content-disposition')).toBe('attachment; filename=Proposal.pdf');
    expect(whole.headers.get('content-type')).toBe('application/octet-stream');
    await desk.visit(at + file.download!, { headers: { range: 'bytes=100-' } });
    const detail = await desk.detail(id);
    expect(kinds(detail.events).sort()).toEqual(['downloaded', 'file_viewed']);
    const { readings } = await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`);
    expect(readings).toMatchObject([{ downloads: 1 }]);
  });

  test('only to be looked at', async () => {
    const { id, url } = await sent({ mayDownload: false });
    expect((await opened(await desk.visit(url))).download).toBeNull();
    expect((await desk.visit(`${url}/download`)).status).toBe(403);
    expect(kinds((await desk.detail(id)).events)).toEqual(['file_viewed']);
  });

  test('until its day', async () => {
    const { url } = await sent({ openForDays: 3 });
    expect((await desk.visit(url)).status).toBe(200);
    desk.clock.advance(3 * DAY);
    for (const part of ['', '/content', '/first', '/download']) expect((await desk.visit(url + part)).status).toBe(410);
  });

  test('switched off at once, and on again', async () => {
    const { id, url } = await sent();
    const file = await opened(await desk.visit(url));
    await change(id, { closed: true });
    expect((await desk.visit(url)).status).toBe(410);
    expect((await desk.visit(desk.config.publicUrl + file.content)).status).toBe(410);
    expect((await desk.visit(desk.config.publicUrl + file.download!)).status).toBe(410);
    await change(id, { closed: false });
    expect((await desk.visit(url)).status).toBe(200);
  });

  test('asked for the address first', async () => {
    const { id, url } = await sent({ asksAddress: true });
    const asked = await desk.visit(url);
    expect(await asked.text()).toContain('asks for your email address');
    for (const part of ['/content', '/first', '/download']) expect((await desk.visit(url + part)).status).toBe(403);
    expect((await desk.detail(id)).events).toEqual([]);
    const give = (address: string) => desk.visit(url, { method: 'POST', body: new URLSearchParams({ address }) });
    expect((await give('<script>')).status).toBe(422);
    const file = await opened(await give('otis@lindqvist.example'));
    expect((await desk.visit(desk.config.publicUrl + file.content)).status).toBe(200);
    const { readings } = await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`);
    expect(readings).toMatchObject([{ givenAddress: 'otis@lindqvist.example', counted: true }]);
  });

  test('links stay with the version that was sent, or follow the newest', async () => {
    const file = await upload(desk, 'Proposal.pdf', await pdf(2));
    const ids: number[] = [];
    for (const followsNewest of [false, true]) {
      const { id } = await desk.send({ recipients: [to(MARIT)], files: [carried(file.id, { followsNewest })] });
      await desk.sent(id);
      ids.push(id);
    }
    await upload(desk, 'Proposal, mended.pdf', await pdf(5), file.id);
    const pages = async (id: number) => (await desk.detail(id)).files[0]!.version.pages;
    expect(await Promise.all(ids.map(pages))).toEqual([2, 5]);
    // One that is still being made ready takes nobody’s place.
    desk.sqlite
      .prepare(
        "insert into file_version select null, file_id, 3, sha256, size, media_type, kind, 9, 'converting', null, null, 0, null from file_version limit 1",
      )
      .run();
    expect(await Promise.all(ids.map(pages))).toEqual([2, 5]);
    desk.clock.advance(MINUTE);
    const urls = mail.received.map((one) => fileLinks(one)[0]!);
    const shown = await Promise.all(
      urls.map(async (url) => {
        const { content } = await opened(await desk.visit(url));
        return (await (await desk.visit(desk.config.publicUrl + content)).text()).match(/\/Type \/Page\b(?!s)/g)!
          .length;
      }),
    );
    expect(shown).toEqual([2, 5]);
  });

  test('guessed addresses lead nowhere', async () => {
    const guessed = `${desk.config.publicUrl}/f/${'A'.repeat(22)}`;
    for (const part of ['', '/content', '/download']) expect((await desk.visit(guessed + part)).status).toBe(404);
    for (const path of [
      '/f/x',
      '/f/../api/files',
      '/v/../../package.json',
      '/v/parts/..%2f..%2findex.html',
      '/v/pdfjs/build/pdf.mjs',
    ])
      expect((await desk.visit(desk.config.publicUrl + path)).status).toBe(404);
  });
});

test('the library says where a file was sent; what begins other messages carries those that it names', async () => {
  const { id } = await sent({}, [to(MARIT, 'Marit Oakes')]);
  const [file] = (await desk.detail(id)).files;
  const uses = await desk.json('GET', `/api/files/${file!.fileId}/uses`);
  expect(uses).toMatchObject([{ messageId: id, version: 1, views: 0, recipients: [{ address: MARIT }] }]);
  const html = `<p>Dear reader,</p><p data-file="${file!.fileId}">Proposal</p>`;
  const without = await desk.json<TemplateView>('POST', '/api/templates', { name: 'T', subject: 'S', html });
  expect(without).toMatchObject({ html: '<p>Dear reader,</p>', files: [], folder: '' });
  const files = [{ ...AS_LINK, fileId: file!.fileId }];
  const kept = await desk.json<TemplateView>('POST', '/api/templates', { name: 'F', subject: 'S', html, files });
  expect(kept.html).toBe(html);
  expect(kept.files).toMatchObject([{ fileId: file!.fileId, versionId: null, way: 'link' }]);
  const unknown = { name: 'U', subject: 'S', html, files: [{ ...AS_LINK, fileId: 999_999 }] };
  expect((await desk.call('POST', '/api/templates', unknown)).status).toBe(422);
});

test('a file stands in the export, with page and seconds', async () => {
  const { url } = await sent();
  const { report: how } = await opened(await desk.visit(url));
  desk.clock.advance(MINUTE);
  await told(url, how!.reading, [{ visit: 1, page: 3, ms: 7400 }]);
  const lines = (await (await desk.call('GET', '/api/export/events.jsonl')).text()).trim().split('\n');
  const rows = lines.map((line) => JSON.parse(line) as Record<string, unknown>);
  expect(rows).toContainEqual(
    expect.objectContaining({ kind: 'page_viewed', file_name: 'Proposal.pdf', page: 3, seconds: 7.4 }),
  );
  expect(rows).toContainEqual(
    expect.objectContaining({ kind: 'file_viewed', file_name: 'Proposal.pdf', page: '', seconds: '' }),
  );
});

describe('forgotten and erased by the rules of everything else', () => {
  test('who read is forgotten after its time, and that somebody did stays', async () => {
    const { id, url } = await sent({ asksAddress: true });
    const response = await desk.visit(url, { method: 'POST', body: new URLSearchParams({ address: OTIS }) });
    const { report: how } = await opened(response);
    desk.clock.advance(MINUTE);
    await told(url, how!.reading, [{ visit: 1, page: 2, ms: 9000 }]);
    const settings = { forgetReadersDays: 10, forgetEventsDays: null, untrackedDomains: [] };
    await desk.json('PUT', '/api/settings/privacy', settings);
    desk.clock.advance(11 * DAY);
    await desk.get(Retention).forget();
    const { readings } = await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`);
    expect(readings).toMatchObject([{ givenAddress: null, program: null, visits: [{ page: 2, ms: 9000 }] }]);

    await desk.json('PUT', '/api/settings/privacy', { ...settings, forgetEventsDays: 10 });
    await desk.get(Retention).forget();
    expect((await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`)).readings).toEqual([]);
    expect((await desk.detail(id)).files).toMatchObject([{ views: 0 }]);
  });

  test('one person’s reading is given out, and goes with them', async () => {
    const { id, url } = await sent({}, [to(MARIT, 'Marit Oakes'), to(OTIS)]);
    const { report: how } = await opened(await desk.visit(url));
    desk.clock.advance(MINUTE);
    await told(url, how!.reading, [{ visit: 1, page: 2, ms: 9000 }]);
    const [{ id: person }] = await desk.json<[{ id: number }]>('GET', `/api/people?words=${MARIT}`);
    const text = await (await desk.call('GET', `/api/people/${person}/data.txt`)).text();
    expect(text).toContain('“Proposal.pdf”; page 2; for 9 s');
    await desk.call('DELETE', `/api/people/${person}`);
    expect((await desk.json<FileReadings>('GET', `/api/messages/${id}/readings`)).readings).toEqual([]);
    expect(await told(url, how!.reading, [{ visit: 2, page: 3, ms: 9000 }])).toBe(404);
  });
});

test('a report of reading is taken no more once the link is switched off', async () => {
  const { id, url } = await sent();
  const { report: how } = await opened(await desk.visit(url));
  desk.clock.advance(MINUTE);
  expect(await told(url, how!.reading, [{ visit: 1, page: 1, ms: 5000 }])).toBe(204);
  const [file] = (await desk.detail(id)).files;
  await desk.json('PATCH', `/api/sent-files/${file!.id}`, { closed: true });
  desk.clock.advance(MINUTE);
  expect(await told(url, how!.reading, [{ visit: 2, page: 2, ms: 5000 }])).toBe(410);
  expect(sums(await desk.detail(id))).toEqual([[1, 5000, true]]);
});

test('whoever breaks off in the middle of a report fills no log', async () => {
  const { url } = await sent();
  const { pathname, port, hostname } = new URL(url);
  const socket = connect(Number(port), hostname);
  socket.write(`POST ${pathname}/reading HTTP/1.1\r\nHost: x\r\nContent-Length: 100\r\n\r\n{"reading":`);
  await pause(100);
  socket.destroy();
  await pause(100);
  expect((await desk.visit(url)).status).toBe(200);
  expect(desk.problems).toEqual([]);
});

test('one reader in twenty-five windows reads for no longer than in one', async () => {
  const { id, url } = await sent();
  desk.clock.stop();
  const windows = [];
  for (let n = 0; n < 25; n += 1) windows.push(await opened(await desk.visit(url)));
  desk.clock.advance(MINUTE);
  for (const { report: how } of windows) await told(url, how!.reading, [{ visit: 1, page: 1, ms: MINUTE }]);
  const total = sums(await desk.detail(id)).reduce((sum, [, ms]) => sum + Number(ms), 0);
  expect(total).toBeGreaterThanOrEqual(MINUTE);
  expect(total).toBeLessThanOrEqual(MINUTE + 30 * SECOND);
  // Another one, elsewhere, does.
  const other = await opened(
    await desk.visit(url, { headers: { 'user-agent': 'Mozilla/5.0 (Android 15; Mobile; rv:140.0)' } }),
  );
  desk.clock.advance(MINUTE);
  await told(url, other.report!.reading, [{ visit: 1, page: 2, ms: MINUTE }]);
  expect(sums(await desk.detail(id)).find(([page]) => page === 2)).toEqual([2, MINUTE, true]);
});
