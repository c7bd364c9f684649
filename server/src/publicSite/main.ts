import { setTimeout as pause } from 'node:timers/promises';
import { Clock } from '../environment/clock.js';
import { journalFolder, readConfig } from '../environment/config.js';
import { log } from '../environment/log.js';
import { writersOf } from '../journal/journalFiles.js';
import { keepPrivate } from '../store/keepPrivate.js';
import type { FromPublicSite, PublicSocket, SocketMessage } from '../supervisor/messages.js';
import { PublicSite } from './publicSite.js';

/* The public site as a process of its own, which the supervisor gives its socket. */

/** Without a supervisor it goes on for so long: the next supervisor’s public site takes its place. */
const ORPHAN_MS = 60_000;
/** What could not be written down is reported this often. */
const REPORT_PAUSE_MS = 1000;

const config = readConfig();
keepPrivate(config.dataDir);
let stopping: Promise<void> | undefined;
let reporting: Promise<void> | undefined;
let lastReport: Extract<FromPublicSite, { kind: 'notRecorded' }> | undefined;
const site = new PublicSite(config, new Clock(), {
  problem: (what, error) => log('error', `Public site, ${what}`, error),
  notRecorded: (what) => {
    lastReport = { kind: 'notRecorded', what };
    reporting ??= report();
  },
});

const sockets: Partial<Record<PublicSocket, object>> = {};
process.on('message', ({ of }: SocketMessage, socket) => {
  sockets[of] = socket as object;
  // The other one comes first.
  if (of !== 'public') return;
  site.open(sockets).then(
    () => send({ kind: 'listening' }),
    (error: unknown) => {
      log('error', 'Public site', error);
      process.exit(1);
    },
  );
});
process.on('SIGTERM', stop);
// Ctrl-C in a terminal goes to all; the supervisor says when to end.
process.on('SIGINT', () => undefined);
process.on('disconnect', orphaned);
if (process.send && !process.connected) orphaned();

// One public site for a data folder: this one is ready, and takes the place of any before it.
for (const pid of writersOf(journalFolder(config))) if (pid !== process.pid) end(pid);
send({ kind: 'ready' });

function end(pid: number): void {
  try {
    process.kill(pid, 'SIGTERM');
  } catch {
    // It has just ended by itself.
  }
}

function orphaned(): void {
  setTimeout(stop, ORPHAN_MS);
}

/** Once, though the supervisor and whoever takes its place may both ask. */
function stop(): void {
  stopping ??= site.close().then(() => process.exit(0));
}

/** At most once in a while, and the latest. */
async function report(): Promise<void> {
  await pause(REPORT_PAUSE_MS);
  reporting = undefined;
  send(lastReport!);
}

function send(message: FromPublicSite): void {
  if (process.connected) process.send!(message);
}
