import { fileURLToPath } from 'node:url';
import type { NotRecordedView } from '@kiraku/core/contract';
import { readConfig, type Config } from '../environment/config.js';
import { log } from '../environment/log.js';
import { keepPrivate } from '../store/keepPrivate.js';
import { logToFile } from './logFile.js';
import { bindSocket } from './listeningSocket.js';
import type { FromPublicSite, PublicSocket, SocketMessage, StateMessage } from './messages.js';
import { Program } from './program.js';

/*
 * What `npm start` runs: it starts desk and public site, starts again what ends, and holds the socket of the public site,
 * so that nobody outside is refused meanwhile. It does as little as can be, since nobody watches over it.
 */

/**
 * With no bound to its heap, V8 lets what is done with pile up to four times of what is in use. The second is for what is
 * soon done with, of each thread: the more there may be of it, the more memory is held after a burst.
 */
const DESK_HEAP = ['--max-old-space-size=1024', '--max-semi-space-size=8'];
const PUBLIC_SITE_HEAP = ['--max-old-space-size=128', '--max-semi-space-size=8'];
/** The desk is started by then, also where the public site does not listen. */
const DESK_AT_LATEST_MS = 3000;

const config = readOrEnd();
const warning = keepPrivate(config.dataDir);
if (warning) log('warning', 'Kiraku', warning);
if (config.logFile !== null) logToFile(config.logFile);

let isDeskStarted = false;
let notRecorded: NotRecordedView | null = null;
/** Those that the public site listens on, each bound once. */
const ports: Partial<Record<PublicSocket, number>> = {
  ...(config.tls && { plain: config.tls.plainPort }),
  public: config.publicPort,
};
const sockets = new Map<PublicSocket, ReturnType<typeof bindSocket>>();

const publicSite = new Program('public site', [...PUBLIC_SITE_HEAP, bundled('publicSite')], {
  received: (message) => void receive(message as FromPublicSite),
  changed: announce,
});
const desk = new Program('desk', [...DESK_HEAP, bundled('main')], { received: () => undefined, changed: announce });

for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop(0));
publicSite.start();
const late = setTimeout(() => startDesk(), DESK_AT_LATEST_MS);

/** Once the public site listens: beginning takes the desk much of the processor, and outside one waits. */
function startDesk(): void {
  clearTimeout(late);
  if (!isDeskStarted) desk.start();
  isDeskStarted = true;
}

async function receive(message: FromPublicSite): Promise<void> {
  if (message.kind === 'listening') return startDesk();
  if (message.kind === 'notRecorded') {
    notRecorded = message.what;
    return announce();
  }
  try {
    for (const [of, port] of Object.entries(ports) as [PublicSocket, number][]) {
      if (!sockets.has(of)) sockets.set(of, bindSocket(config.publicHost, port));
      publicSite.send({ kind: 'socket', of } satisfies SocketMessage, await sockets.get(of));
    }
  } catch (error) {
    log('error', 'Kiraku', error instanceof Error ? error.message : error);
    await stop(1);
  }
}

/** Tells the desk how all are. */
function announce(): void {
  const processes = [desk.view(), publicSite.view()];
  desk.send({ kind: 'state', processes, notRecorded } satisfies StateMessage);
}

/** The public site last: what happens while the desk ends is in its journal. */
async function stop(code: number): Promise<void> {
  clearTimeout(late);
  await desk.stop();
  await publicSite.stop();
  process.exit(code);
}

function readOrEnd(): Config {
  try {
    return readConfig();
  } catch (error) {
    log('error', 'Kiraku', (error as Error).message);
    process.exit(1);
  }
}

function bundled(name: string): string {
  return fileURLToPath(new URL(`../bundle/${name}.js`, import.meta.url));
}
