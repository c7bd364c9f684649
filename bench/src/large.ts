import { existsSync } from 'node:fs';
import { imagePath, linkPath } from '@kiraku/core/tracking';
import { workedOff } from './lib/backlog.js';
import { benchFolder } from './lib/folder.js';
import { CHROMIUM, reportHitToPage } from './lib/hitToPage.js';
import { getRequest, load } from './lib/load.js';
import { seedLarge } from './lib/large.js';
import { memoryOf, startBare, startServer, stopServer } from './lib/processes.js';
import { median, quantile, report } from './lib/report.js';
import { openSession } from './lib/session.js';

/* The desk on 100,000 messages and 1,000,000 events: start, list, recording, memory, and judging all of it again. */
const MESSAGES = Number(process.env['BENCH_MESSAGES'] ?? 100_000);
const EVENTS = Number(process.env['BENCH_EVENTS'] ?? 1_000_000);
const CONNECTIONS = 64;
const SLICE_MS = 1500;
const PAIRS = 7;
const BARE_PORT = 4877;

const { config, remove } = benchFolder(4875);

const { imageTokens, linkTokens, perSecond } = seedLarge(config, MESSAGES, EVENTS);
report('judged_and_written', perSecond, 'hits/s, in groups of 500, one thread');
const session = await openSession(config);

const began = performance.now();
const server = await startServer(config);
report('start_with_large_data', performance.now() - began, 'ms (bar: 2000)');

const headers = { cookie: `kiraku_session=${session}` };
let next: string | null = null;
const pages: number[] = [];
for (let n = 0; n < 200; n += 1) {
  const from = performance.now();
  const response = await fetch(
    `http://127.0.0.1:${config.port}/api/messages${next && n % 2 ? `?cursor=${next}` : ''}`,
    { headers },
  );
  const text = await response.text();
  pages.push(performance.now() - from);
  ({ nextCursor: next } = JSON.parse(text) as { nextCursor: string | null });
}
report('list_page_p95', quantile(pages, 0.95), 'ms (bar: 50)');

// The list shows first what was read last: the newest events are on the page when they are awaited.
if (existsSync(CHROMIUM)) await reportHitToPage(config, session, imageTokens);

const bare = await startBare(BARE_PORT);
for (const [name, bar, paths] of [
  ['open_of_large', 0.7, imageTokens.map(imagePath)],
  ['click_of_large', 0.7, linkTokens.map(linkPath)],
] as const) {
  const agent = (n: number) =>
    `Mozilla/5.0 (X11; Linux x86_64; rv:${100 + (n % 40)}.0) Gecko/20100101 Firefox/${100 + (n % 40)}.0`;
  const list = paths.map((path, n) => getRequest(path, agent(n)));
  const ratios: number[] = [];
  await load(config.publicPort, list, CONNECTIONS, SLICE_MS);
  await load(BARE_PORT, list, CONNECTIONS, SLICE_MS);
  for (let n = 0; n < PAIRS; n += 1) {
    await workedOff(config);
    const recorded = await load(config.publicPort, list, CONNECTIONS, SLICE_MS);
    await workedOff(config);
    ratios.push(recorded / (await load(BARE_PORT, list, CONNECTIONS, SLICE_MS)));
  }
  report(`${name}_ratio`, median(ratios), `of the bare server (bar: ${bar})`);
}
bare.kill('SIGTERM');

const again = performance.now();
await fetch(`http://127.0.0.1:${config.port}/api/rejudge`, {
  method: 'POST',
  headers: { ...headers, origin: `http://127.0.0.1:${config.port}` },
});
for (;;) {
  await new Promise((resolve) => setTimeout(resolve, 500));
  const response = await fetch(`http://127.0.0.1:${config.port}/api/rejudge`, { headers });
  if (((await response.json()) as { progress: object | null }).progress === null) break;
}
report('judged_again', (performance.now() - again) / 1000, 's for all');
report('memory', memoryOf(server), 'MB, of all processes (bar: 400)');
await stopServer(server);
remove();
