import { imagePath, linkPath } from '@kiraku/core/tracking';
import Sqlite from 'better-sqlite3';
import { databaseFile } from '@kiraku/server/environment/config';
import { workedOff } from './lib/backlog.js';
import { benchFolder } from './lib/folder.js';
import { getRequest, load } from './lib/load.js';
import { memoryOf, startBare, startServer, stopServer } from './lib/processes.js';
import { median, report } from './lib/report.js';
import { seed } from './lib/seed.js';

/*
 * An open and a click, recorded durably, against a bare server that answers the same and records nothing. The two take turns
 * in short slices, since a shared machine’s speed drifts; the ratio is that of each pair. What is recorded is judged and
 * counted before the next slice begins. Then a minute at full speed, and how fast its backlog is worked off.
 */
const CONNECTIONS = 64;
const SLICE_MS = 1500;
const PAIRS = 9;
/** Hits go to this many messages in turn: what somebody sent in the past days, and is read now. */
const RECENT = 500;
const ALL = 20_000;
const AGENTS = 40;
const SUSTAINED_MS = 60_000;

const { config, remove } = benchFolder(4870);
const BARE_PORT = 4872;

const { imageTokens, linkTokens } = seed(config, ALL);
const agent = (n: number) =>
  `Mozilla/5.0 (X11; Linux x86_64; rv:${100 + (n % AGENTS)}.0) Gecko/20100101 Firefox/${100 + (n % AGENTS)}.0`;
const requests = (paths: string[]) =>
  Array.from({ length: 20_000 }, (_, n) => getRequest(paths[n % paths.length]!, agent(Math.floor(n / paths.length))));
const cases: [name: string, bar: number, paths: string[]][] = [
  ['open', 0.8, imageTokens.slice(0, RECENT).map(imagePath)],
  ['click', 0.7, linkTokens.slice(0, RECENT).map(linkPath)],
  ['open_spread_over_20000', 0.8, imageTokens.map(imagePath)],
];

const server = await startServer(config);
const bare = await startBare(BARE_PORT);
for (const [name, bar, paths] of cases) {
  const list = requests(paths);
  const pairs: { recorded: number; bare: number }[] = [];
  await load(config.publicPort, list, CONNECTIONS, SLICE_MS);
  await load(BARE_PORT, list, CONNECTIONS, SLICE_MS);
  for (let n = 0; n < PAIRS; n += 1) {
    await workedOff(config);
    const recorded = await load(config.publicPort, list, CONNECTIONS, SLICE_MS);
    await workedOff(config);
    pairs.push({ recorded, bare: await load(BARE_PORT, list, CONNECTIONS, SLICE_MS) });
  }
  report(`${name}_recorded`, median(pairs.map((pair) => pair.recorded)), 'requests/s');
  report(`${name}_bare`, median(pairs.map((pair) => pair.bare)), 'requests/s');
  report(`${name}_ratio`, median(pairs.map((pair) => pair.recorded / pair.bare)), `of the bare server (bar: ${bar})`);
}
bare.kill('SIGTERM');

await workedOff(config);
const before = countEvents();
const answered = await load(config.publicPort, requests(cases[0]![2]), CONNECTIONS, SUSTAINED_MS);
const meanwhile = countEvents() - before;
const offMs = await workedOff(config);
report('sustained_recorded', answered, 'requests/s for a minute');
report('sustained_judged_meanwhile', meanwhile / (SUSTAINED_MS / 1000), 'hits/s');
report('backlog_judged', ((countEvents() - before - meanwhile) / offMs) * 1000, 'hits/s (bar: 8000)');
report('memory_after_recording', memoryOf(server), 'MB, of all processes (bar: 400)');
await stopServer(server);
remove();

/** All hits that were judged, those of a flood one by one. */
function countEvents(): number {
  const database = new Sqlite(databaseFile(config), { readonly: true });
  const count = database.prepare('select coalesce(sum(times), 0) from event').pluck().get() as number;
  database.close();
  return count;
}
