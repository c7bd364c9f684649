import { randomBytes } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { open } from 'node:fs/promises';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { filePath } from '@kiraku/core/tracking';
import { createApp } from '@kiraku/server/app';
import { ContentStore } from '@kiraku/server/files/contentStore';
import { FilesRepository } from '@kiraku/server/files/files.repository';
import { FilesService } from '@kiraku/server/files/files.service';
import { Preparing } from '@kiraku/server/files/preparing';
import { DATABASE, type Database } from '@kiraku/server/store/database';
import { newToken } from '@kiraku/server/tracking/tokens';
import { chromium } from '@playwright/test';
import PDFDocument from 'pdfkit';
import { benchFolder } from './lib/folder.js';
import { BROWSER_ARGS, CHROMIUM } from './lib/hitToPage.js';
import { load } from './lib/load.js';
import { startServer, stopServer } from './lib/processes.js';
import { median, report } from './lib/report.js';
import { seed } from './lib/seed.js';
import { openSession } from './lib/session.js';

/*
 * Files in and out against a bare node:http server that does the same with a stream, what the viewer costs its reader,
 * and how many reports of reading are written down a second.
 */
const BARE_PORT = 4882;
const MEGABYTES = 90;
const PAIRS = 5;
const READINGS = 4000;
const REPORTS_EACH = 12;
const CONNECTIONS = 64;
const FILES_SLICE_MS = 2000;

const { config, remove } = benchFolder(4880);
seed(config, 10);
const session = await openSession(config);
const { token, keys } = await prepare();
const server = await startServer(config);
const publicSite = `http://127.0.0.1:${config.publicPort}`;
const desk = `http://127.0.0.1:${config.port}`;

const stored = join(config.dataDir, 'bare.bin');
const bytes = randomBytes(MEGABYTES * 1_000_000);
writeFileSync(stored, bytes);
const bare = createServer((request, response) => {
  if (request.method === 'GET') return void createReadStream(stored).pipe(response);
  void intoFile(request, join(config.dataDir, 'bare-in.bin')).then(() => response.writeHead(204).end());
});
await new Promise<void>((resolve) => bare.listen(BARE_PORT, '127.0.0.1', resolve));

const ups: number[] = [];
const downs: number[] = [];
for (let n = 0; n < PAIRS; n += 1) {
  // Other bytes each time: the same would be kept once.
  bytes.writeUInt32LE(n, 0);
  const uploaded = await timed(() => upload());
  ups.push((await timed(() => fetch(`http://127.0.0.1:${BARE_PORT}`, { method: 'POST', body: bytes }))) / uploaded);
  const downloaded = await timed(() => drained(`${publicSite}${filePath(token.large)}/download`));
  downs.push((await timed(() => drained(`http://127.0.0.1:${BARE_PORT}/`))) / downloaded);
}
report('file_upload_ratio', median(ups), 'of a bare stream to a file (bar: 0.7)');
report('file_download_ratio', median(downs), 'of a bare stream from a file (bar: 0.7)');

reportBundle();
if (existsSync(CHROMIUM)) await reportFirstPage();

// Each says a little more than the one before, as windows do.
const requests = Array.from({ length: REPORTS_EACH }, (_, n) => keys.map((key) => reportOf(key, (n + 1) * 600))).flat();
report(
  'reports_of_reading',
  await load(config.publicPort, requests, CONNECTIONS, FILES_SLICE_MS),
  'a second, written down durably',
);

await stopServer(server);
bare.closeAllConnections();
bare.close();
remove();

/** A large document and a large file, sent to somebody, with readings that began an hour ago. */
async function prepare() {
  const app = await createApp(config);
  const files = app.get(FilesRepository);
  const share = async (name: string, content: Buffer) => {
    const path = app.get(ContentStore).scratch();
    writeFileSync(path, content);
    const view = await app.get(FilesService).take(path, name, null);
    await app.get(Preparing).idle();
    const [version] = app.get(FilesService).view(view.id).versions;
    const rules = { followsNewest: false, mayDownload: true, asksAddress: false };
    const sentFileId = files.addSent({ messageId: 1, fileId: view.id, name, versionId: version!.id, ...rules });
    const made = newToken();
    files.addCopyFiles([{ token: made, copyId: 1, sentFileId }]);
    return { made, sentFileId, versionId: version!.id };
  };
  const large = await share('large.bin', randomBytes(MEGABYTES * 1_000_000));
  const document = await share('document.pdf', await largePdf());
  const { $client } = app.get<Database>(DATABASE);
  const began = Date.now() - 3_600_000;
  const event = $client
    .prepare(
      "insert into event (at, kind, counted, message_id, copy_id, sent_file_id) values (?, 'file_viewed', 1, 1, 1, ?)",
    )
    .run(began, document.sentFileId).lastInsertRowid;
  const add = $client.prepare(
    'insert into reading (key, copy_id, sent_file_id, version_id, event_id, started_at, last_at) values (?, 1, ?, ?, ?, ?, ?)',
  );
  const names = Array.from({ length: READINGS }, () => newToken());
  $client.transaction(() => {
    for (const key of names) add.run(key, document.sentFileId, document.versionId, event, began, began);
  })();
  await app.close();
  return { token: { large: large.made, document: document.made }, keys: names };
}

/** Fifty pages and fifty megabytes, not in the order in which they are read. */
function largePdf(): Promise<Buffer> {
  const document = new PDFDocument({ compress: false, autoFirstPage: false });
  const chunks: Buffer[] = [];
  document.on('data', (chunk: Buffer) => chunks.push(chunk));
  document.file(randomBytes(50_000_000), { name: 'weight.bin' });
  for (let page = 1; page <= 50; page += 1) document.addPage().fontSize(30).text(`Page ${page}`);
  document.end();
  return new Promise((resolve) => document.on('end', () => resolve(Buffer.concat(chunks))));
}

async function upload(): Promise<void> {
  const headers = { cookie: `kiraku_session=${session}`, 'Tus-Resumable': '1.0.0' };
  const begun = await fetch(`${desk}/api/uploads`, {
    method: 'POST',
    headers: { ...headers, 'Upload-Length': String(bytes.length), 'Upload-Metadata': 'filename bGFyZ2UuYmlu' },
  });
  const ended = await fetch(desk + begun.headers.get('location')!, {
    method: 'PATCH',
    headers: { ...headers, 'Upload-Offset': '0', 'Content-Type': 'application/offset+octet-stream' },
    body: bytes,
  });
  if (!ended.ok) throw new Error(`${ended.status} ${await ended.text()}`);
  await ended.arrayBuffer();
}

/** As durable as what it is compared with. */
async function intoFile(stream: NodeJS.ReadableStream, path: string): Promise<void> {
  await pipeline(stream, createWriteStream(path));
  const handle = await open(path);
  await handle.sync();
  await handle.close();
}

async function drained(url: string): Promise<void> {
  const response = await fetch(url);
  if (!response.ok) throw new Error(`${response.status} at ${url}`);
  for await (const chunk of response.body!) void chunk;
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** What a reader’s browser loads to show pages. */
function reportBundle(): void {
  const parts = fileURLToPath(new URL('../../web/viewer/dist/parts/', import.meta.url));
  const sizeOf = (pattern: RegExp) =>
    readdirSync(parts)
      .filter((name) => pattern.test(name))
      .reduce((sum, name) => sum + gzipSync(readFileSync(join(parts, name))).length, 0) / 1000;
  report('viewer_own_script', sizeOf(/^index-.*\.js$/), 'KB compressed');
  report('viewer_pages_script', sizeOf(/^(index|pages|pdf_viewer)-.*\.js$|\.css$/), 'KB compressed, with styles');
  report('viewer_worker', sizeOf(/worker/), 'KB compressed');
}

async function reportFirstPage(): Promise<void> {
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: BROWSER_ARGS });
  const seen: number[] = [];
  const complete: number[] = [];
  let loaded = 0;
  for (let n = 0; n < PAIRS; n += 1) {
    // A cache of its own each time.
    const page = await (await browser.newContext()).newPage();
    if (n === 0)
      page.on('requestfinished', async (request) => {
        if (request.url().includes('/content')) loaded += (await request.sizes()).responseBodySize;
      });
    const began = performance.now();
    await page.goto(publicSite + filePath(token.document));
    await page.locator('.first, .page canvas').first().waitFor();
    seen.push(performance.now() - began);
    await page.locator('.page[data-page-number="1"][data-loaded="true"] .textLayer span').first().waitFor();
    complete.push(performance.now() - began);
    await page.context().close();
  }
  await browser.close();
  report('viewer_first_page', median(seen), 'ms until a picture of it is seen, of a document of 50 MB (bar: 1000)');
  report('viewer_first_page_complete', median(complete), 'ms until its text can be chosen and found');
  report('viewer_first_page_bytes', loaded / 1e6, 'MB of it fetched');
}

function reportOf(reading: string, ms: number): Buffer {
  const body = JSON.stringify({ reading, active: true, visits: [{ visit: 1, page: 1, ms }] });
  return Buffer.from(
    `POST ${filePath(token.document)}/reading HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: ${body.length}\r\n\r\n${body}`,
  );
}
