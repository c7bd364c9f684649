import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';

/** Linux's ordinary start of the range from which connections get their own port. */
const USUAL_FIRST_OF_CONNECTIONS = 32_768;
const LOWEST = 10_000;
/** Browsers, and `fetch`, ask for nothing at it (Fetch standard, “port blocking”). */
const BLOCKED = 10_080;
/** So many processes can run tests side by side without ever looking at each other’s ports. */
const SHARES = 16;
const SHARE = Math.floor((firstOfConnections() - LOWEST) / SHARES);

const firstOfShare = LOWEST + SHARE * shareOfThisProcess();
let step = Math.floor(Math.random() * SHARE);

/**
 * A port of loopback that nobody listens on, that no outgoing connection is given by the system, and that no other
 * process which runs tests is given or looks at: it is still free when a server is started at it a while later, or
 * again.
 */
export async function freePort(): Promise<number> {
  for (let tries = 0; tries < SHARE; tries += 1) {
    step = (step + 1) % SHARE;
    const port = firstOfShare + step;
    if (port !== BLOCKED && (await canListen(port))) return port;
  }
  throw new Error('No port of loopback is free');
}

/** Jest counts its processes from 1, Playwright from 0; either alone has them all. */
function shareOfThisProcess(): number {
  const { JEST_WORKER_ID, TEST_PARALLEL_INDEX } = process.env;
  return Number(JEST_WORKER_ID ?? TEST_PARALLEL_INDEX ?? process.pid) % SHARES;
}

function canListen(port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}

function firstOfConnections(): number {
  try {
    const [first] = readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8').split(/\s/);
    return Math.max(LOWEST + 1000, Number(first));
  } catch {
    return USUAL_FIRST_OF_CONNECTIONS;
  }
}
