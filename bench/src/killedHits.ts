import { Agent, get } from 'node:http';
import type { EventKind } from '@kiraku/core/contract';
import { imagePath, tallyOf } from '@kiraku/core/tracking';
import { databaseFile } from '@kiraku/server/environment/config';
import Sqlite from 'better-sqlite3';
import { benchFolder } from './lib/folder.js';
import { startServer } from './lib/processes.js';
import { report } from './lib/report.js';
import { seed } from './lib/seed.js';

/* The server killed by SIGKILL at random moments under 500 hits a second: what was replied to is there, and counted right. */
const KILLS = 30;
const MESSAGES = 2000;
const HITS_A_SECOND = 500;
const LONGEST_ROUND_MS = 2500;

const { config, remove } = benchFolder(4878);
const { imageTokens } = seed(config, MESSAGES);

const replied = new Map<string, number>();
const agent = new Agent({ keepAlive: true, maxSockets: 64 });
let number = 0;

for (let round = 0; round < KILLS; round += 1) {
  const server = await startServer(config);
  const load = setInterval(() => {
    for (let n = 0; n < HITS_A_SECOND / 100; n += 1) hit();
  }, 10);
  await new Promise((resolve) => setTimeout(resolve, Math.random() * LONGEST_ROUND_MS));
  const gone = new Promise((resolve) => server.once('exit', resolve));
  server.kill('SIGKILL');
  clearInterval(load);
  await gone;
}
agent.destroy();
// The last start brings the file in order, and a stop leaves it so.
const last = await startServer(config);
last.kill('SIGTERM');
await new Promise((resolve) => last.once('exit', resolve));

const database = new Sqlite(databaseFile(config), { readonly: true });
const recorded = database
  .prepare('select coalesce(sum(times), 0) from event join copy on copy.id = event.copy_id where image_token = ?')
  .pluck();
let missing = 0;
for (const [token, count] of replied) missing += Math.max(0, count - (recorded.get(token) as number));
report(
  'killed_hits_answered',
  [...replied.values()].reduce((sum, count) => sum + count, 0),
  `hits, ${KILLS} kills`,
);
report('killed_hits_missing', missing, 'of those (bar: 0)');
report('killed_hits_wrong_counts', wrongCounts(), `of ${MESSAGES} messages (bar: 0)`);
report('killed_hits_damaged', database.pragma('quick_check', { simple: true }) === 'ok' ? 0 : 1, 'files (bar: 0)');
database.close();
remove();

function hit(): void {
  const token = imageTokens[(number += 1) % MESSAGES]!;
  const headers = {
    'user-agent': `Mozilla/5.0 (X11; Linux x86_64; rv:${100 + (number % 40)}.0) Gecko/20100101 Firefox`,
  };
  get(config.publicUrl + imagePath(token), { agent, headers }, (response) => {
    if (response.statusCode === 200) replied.set(token, (replied.get(token) ?? 0) + 1);
    response.resume().on('error', () => undefined);
  }).on('error', () => undefined);
}

/** Messages whose counts are not what their events say. */
function wrongCounts(): number {
  interface Row {
    id: number;
    opens: number;
    notCounted: number;
    lastOpenAt: number | null;
  }
  const events = database.prepare('select kind, at, counted, times from event where message_id = ?');
  const rows = database
    .prepare('select id, opens, not_counted as notCounted, last_open_at as lastOpenAt from message')
    .all() as Row[];
  return rows.filter(({ id, opens, notCounted, lastOpenAt }) => {
    const found = events.all(id) as { kind: EventKind; at: number; counted: number; times: number }[];
    const tally = tallyOf(found.map((one) => ({ ...one, counted: one.counted === 1 })));
    return tally.opens !== opens || tally.notCounted !== notCounted || tally.lastOpenAt !== lastOpenAt;
  }).length;
}
