import { Agent, get } from 'node:http';
import { LIST_COLUMNS, PEOPLE_ORDERS, PEOPLE_SHOWN, SHOWN } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { benchFolder } from './lib/folder.js';
import { seedFollowups } from './lib/followups.js';
import { seedLarge } from './lib/large.js';
import { startServer, stopServer } from './lib/processes.js';
import { quantile, report } from './lib/report.js';
import { openSession } from './lib/session.js';

/*
 * What the pages ask the desk for, on 100,000 messages and 1,000,000 events: each filter, each order, words searched for,
 * while thousands of them wait for a reply.
 * Ten times as much by BENCH_MESSAGES and BENCH_EVENTS.
 */
const MESSAGES = Number(process.env['BENCH_MESSAGES'] ?? 100_000);
const EVENTS = Number(process.env['BENCH_EVENTS'] ?? 1_000_000);
const TIMES = 12;
const BAR_MS = MESSAGES > 100_000 ? 100 : 50;
const FOLLOWED = 3000;
const PAGES_DOWN = 20;
const ONE_WORD = ['felt', 'panels', 'reading', 'curtains', 'marit', 'zzz', 'pro', 'kobo', 'room'];
const TWO_WORDS = ['felt panels', 'reading room', 'marit panels', 'price felt', 'samples zzz', 'the panels room'];

const { config, remove } = benchFolder(4895);
seedLarge(config, MESSAGES, EVENTS);
seedFollowups(config, FOLLOWED);
const headers = { cookie: `kiraku_session=${await openSession(config)}`, 'accept-encoding': 'gzip, deflate, br' };
const agent = new Agent({ keepAlive: true });
const server = await startServer(config);

/** Resolves with the last byte: what the browser then makes of it is no time of the server’s. */
function replied(path: string): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = get({ agent, headers, port: config.port, path: `/api/${path}` }, (response) => {
      if (response.statusCode !== 200) reject(new Error(`${response.statusCode} at ${path}`));
      response.on('end', resolve).on('error', reject).resume();
    });
    request.on('error', reject);
  });
}

/** The same page of a list, many pages down. */
async function farDown(path: string): Promise<string> {
  let cursor = '';
  for (let n = 0; n < PAGES_DOWN; n += 1) {
    const response = await fetch(`http://127.0.0.1:${config.port}/api/${path}${cursor}`, { headers });
    const { nextCursor } = (await response.json()) as { nextCursor: string };
    cursor = `&cursor=${nextCursor}`;
  }
  return path + cursor;
}

/** Each asked for several times; the first is left out, as a page that was never asked for is not what one waits for. */
async function ask(name: string, bar: number, paths: string[]): Promise<void> {
  const all: number[] = [];
  const worst: [ms: number, path: string][] = [];
  for (const path of paths) {
    const own: number[] = [];
    for (let n = 0; n <= TIMES; n += 1) {
      const from = performance.now();
      await replied(path);
      if (n > 0) own.push(performance.now() - from);
    }
    all.push(...own);
    worst.push([quantile(own, 0.5), path]);
  }
  worst.sort(([a], [b]) => b - a);
  const [slowest] = worst;
  report(`${name}_p95`, quantile(all, 0.95), `ms (bar: ${bar}); slowest ${slowest![0].toFixed(0)} at ${slowest![1]}`);
}

const words = (text: string) => `words=${encodeURIComponent(text)}&sort=relevance`;
await ask(
  'filters',
  BAR_MS,
  SHOWN.map((show) => `messages?show=${show}`),
);
const orders = LIST_COLUMNS.filter((order) => order !== 'relevance').flatMap((order) => [
  `messages?sort=${order}&direction=desc`,
  `messages?sort=${order}&direction=asc`,
]);
await ask('orders', BAR_MS, orders);
await ask('pages_far_down', BAR_MS, await Promise.all(orders.map(farDown)));
await ask(
  'search_one_word',
  BAR_MS,
  ONE_WORD.map((text) => `messages?${words(text)}`),
);
await ask(
  'search_two_words',
  BAR_MS,
  TWO_WORDS.map((text) => `messages?${words(text)}`),
);
await ask('people', BAR_MS, [
  ...PEOPLE_SHOWN.map((show) => `people/directory?show=${show}`),
  ...PEOPLE_ORDERS.map((order) => `people/directory?order=${order}`),
  `people/directory?order=longestSilence&contactTo=${Date.now() - 30 * DAY}`,
  'people/directory?words=li',
]);
await ask('today', BAR_MS, ['today']);
await ask('followups', BAR_MS, ['followups']);
const lastDays = (days: number) => `reports?zone=Europe/Amsterdam&from=${Date.now() - days * DAY}`;
await ask('reports', MESSAGES > 100_000 ? 2000 : 500, [
  ...[30, 90, 365].map(lastDays),
  `${lastDays(365)}&workingDays=true`,
  `${lastDays(365)}&${words('felt')}`.replace('&sort=relevance', ''),
  'reports?zone=Europe/Amsterdam',
  'reports/subjects?zone=Europe/Amsterdam',
]);

agent.destroy();
await stopServer(server);
remove();
