import { imagePath, linkPath } from '@kiraku/core/tracking';
import { benchFolder } from './lib/folder.js';
import { getRequest, load } from './lib/load.js';
import { startBare, startServer } from './lib/processes.js';
import { median, report } from './lib/report.js';
import { seed } from './lib/seed.js';

/*
 * An open and a click, recorded (judged, counted, durable), against a bare server that answers the same and records
 * nothing. The two take turns in short slices, since a shared machine’s speed drifts; the ratio is that of each pair.
 */
const CONNECTIONS = 64;
const SLICE_MS = 1500;
const PAIRS = 9;
/** Hits go to this many messages in turn: what somebody sent in the past days, and is read now. */
const RECENT = 500;
const ALL = 20_000;
const AGENTS = 40;

const { config, remove } = benchFolder(4870);
const BARE_PORT = 4872;

const { imageTokens, linkTokens } = seed(config, ALL);
const agent = (n: number) =>
  `Mozilla/5.0 (X11; Linux x86_64; rv:${100 + (n % AGENTS)}.0) Gecko/20100101 Firefox/${100 + (n % AGENTS)}.0`;
const requests = (paths: string[]) =>
  Array.from({ length: 20_000 }, (_, n) => getRequest(paths[n % paths.length]!, agent(Math.floor(n / paths.length))));
const cases: [name: string, bar: number, paths: string[]][] = [
  ['open', 0.7, imageTokens.slice(0, RECENT).map(imagePath)],
  ['click', 0.6, linkTokens.slice(0, RECENT).map(linkPath)],
  ['open_spread_over_20000', 0.7, imageTokens.map(imagePath)],
];

const server = await startServer(config);
const bare = await startBare(BARE_PORT);
for (const [name, bar, paths] of cases) {
  const list = requests(paths);
  const pairs: { recorded: number; bare: number }[] = [];
  await load(config.publicPort, list, CONNECTIONS, SLICE_MS);
  await load(BARE_PORT, list, CONNECTIONS, SLICE_MS);
  for (let n = 0; n < PAIRS; n += 1) {
    const recorded = await load(config.publicPort, list, CONNECTIONS, SLICE_MS);
    pairs.push({ recorded, bare: await load(BARE_PORT, list, CONNECTIONS, SLICE_MS) });
  }
  report(`${name}_recorded`, median(pairs.map((pair) => pair.recorded)), 'requests/s');
  report(`${name}_bare`, median(pairs.map((pair) => pair.bare)), 'requests/s');
  report(`${name}_ratio`, median(pairs.map((pair) => pair.recorded / pair.bare)), `of the bare server (bar: ${bar})`);
}
server.kill('SIGTERM');
bare.kill('SIGTERM');
await new Promise((resolve) => server.once('exit', resolve));
remove();
