import { setTimeout as pause } from 'node:timers/promises';
import { readdirSync, readFileSync } from 'node:fs';
import { Agent, get } from 'node:http';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { EventKind } from '@kiraku/core/contract';
import { imagePath, tallyOf } from '@kiraku/core/tracking';
import { databaseFile } from '@kiraku/server/environment/config';
import Sqlite from 'better-sqlite3';
import { workedOff } from './lib/backlog.js';
import { benchFolder } from './lib/folder.js';
import { childrenOf, killServer, startServer, stopServer } from './lib/processes.js';
import { report } from './lib/report.js';
import { seed } from './lib/seed.js';

/*
 * Desk, public site and supervisor killed by SIGKILL in turn at random moments under 500 hits a second, now and then
 * desk and public site ended in good order, and now and then the database migrated again by the next desk, as an update
 * does: what was answered is there, once, and counted right; and how long anybody outside was refused.
 */
const KILLS = Number(process.env['BENCH_KILLS'] ?? 500);
const MESSAGES = 2000;
const HITS_A_SECOND = 500;
const LONGEST_ROUND_MS = 1000;
const KILLS_PER_MIGRATION = 20;
const MIGRATIONS = fileURLToPath(new URL('../../server/migrations', import.meta.url));
const PUBLIC_SITE = 'bundle/publicSite.js';
const DESK = 'bundle/main.js';
const ENDS: readonly [victim: string, signal: 'SIGKILL' | 'SIGTERM'][] = [
  [PUBLIC_SITE, 'SIGKILL'],
  [DESK, 'SIGKILL'],
  ['supervisor', 'SIGKILL'],
  [PUBLIC_SITE, 'SIGTERM'],
  [PUBLIC_SITE, 'SIGKILL'],
  [DESK, 'SIGKILL'],
  ['supervisor', 'SIGKILL'],
  [DESK, 'SIGTERM'],
];

const { config, remove } = benchFolder(4878);
const { imageTokens } = seed(config, MESSAGES);

const asked = new Map<string, number>();
const replied = new Map<string, number>();
const agent = new Agent({ keepAlive: true, maxSockets: 64 });
let number = 0;
let refusedSince: number | null = null;
let longestRefusedMs = 0;
let migrations = 0;

let server = await startServer(config);
const load = setInterval(() => {
  for (let n = 0; n < HITS_A_SECOND / 100; n += 1) hit();
}, 10);
for (let kill = 0; kill < KILLS; kill += 1) {
  await pause(Math.random() * LONGEST_ROUND_MS);
  const [victim, signal] = ENDS[kill % ENDS.length]!;
  if (victim !== 'supervisor') for (const pid of childrenOf(server, victim)) process.kill(pid, signal);
  else {
    const isToMigrate = kill / KILLS_PER_MIGRATION > migrations;
    if (isToMigrate) for (const pid of childrenOf(server, DESK)) process.kill(pid, 'SIGKILL');
    server.kill('SIGKILL');
    if (isToMigrate) undoLastMigration();
    // As whatever keeps services running would.
    server = await startServer(config, true);
  }
}
clearInterval(load);
await pause(1000);
await killServer(server);
agent.destroy();
// The last start brings all in order, and a stop leaves it so.
const last = await startServer(config);
await workedOff(config);
await stopServer(last);

const database = new Sqlite(databaseFile(config), { readonly: true });
const recorded = database
  .prepare('select coalesce(sum(times), 0) from event join copy on copy.id = event.copy_id where image_token = ?')
  .pluck();
let missing = 0;
let doubled = 0;
for (const token of imageTokens) {
  const count = recorded.get(token) as number;
  missing += Math.max(0, (replied.get(token) ?? 0) - count);
  doubled += Math.max(0, count - (asked.get(token) ?? 0));
}
const answered = [...replied.values()].reduce((sum, count) => sum + count, 0);
report('killed_hits_answered', answered, `hits, ${KILLS} kills`);
report('killed_hits_migrations', migrations, 'among them');
report('killed_hits_missing', missing, 'of those (bar: 0)');
report('killed_hits_doubled', doubled, 'hits more than were asked for (bar: 0)');
report('killed_hits_wrong_counts', wrongCounts(), `of ${MESSAGES} messages (bar: 0)`);
report('killed_hits_damaged', database.pragma('quick_check', { simple: true }) === 'ok' ? 0 : 1, 'files (bar: 0)');
report('killed_hits_refused', longestRefusedMs, 'ms at the longest (bar: 1000)');
database.close();
remove();

/** So that the next desk finds something to migrate; not where more than indexes were made. No desk may run meanwhile. */
function undoLastMigration(): void {
  const indexes = indexesOfLastMigration();
  if (indexes.includes(null)) return;
  const database = new Sqlite(databaseFile(config), { timeout: 5000 });
  const isThere = database.prepare('select count(*) from sqlite_master where name = ?').pluck();
  database
    .transaction(() => {
      // No desk may have lived long enough since the last time.
      if (isThere.get(indexes[0]) === 0) return;
      for (const index of indexes) database.exec(`drop index "${index}"`);
      database.exec(
        'delete from __drizzle_migrations where created_at = (select max(created_at) from __drizzle_migrations)',
      );
      migrations += 1;
    })
    .immediate();
  database.close();
}

/** What each of its statements makes; null for one that makes no index. */
function indexesOfLastMigration(): (string | null)[] {
  const names = readdirSync(MIGRATIONS).filter((name) => name.endsWith('.sql'));
  const statements = readFileSync(join(MIGRATIONS, names.sort().at(-1)!), 'utf8').split('--> statement-breakpoint');
  return statements.map((statement) => /^\s*CREATE INDEX `(\w+)`/.exec(statement)?.[1] ?? null);
}

function hit(): void {
  const token = imageTokens[(number += 1) % MESSAGES]!;
  const headers = {
    'user-agent': `Mozilla/5.0 (X11; Linux x86_64; rv:${100 + (number % 40)}.0) Gecko/20100101 Firefox`,
  };
  asked.set(token, (asked.get(token) ?? 0) + 1);
  get(config.publicUrl + imagePath(token), { agent, headers }, (response) => {
    if (response.statusCode === 200) replied.set(token, (replied.get(token) ?? 0) + 1);
    if (refusedSince !== null) longestRefusedMs = Math.max(longestRefusedMs, performance.now() - refusedSince);
    refusedSince = null;
    response.resume().on('error', () => undefined);
  }).on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'ECONNREFUSED') refusedSince ??= performance.now();
  });
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
