import { readFileSync } from 'node:fs';
import { createServer } from 'node:net';

/** Linux's ordinary start of the range from which connections get their own port. */
const USUAL_FIRST_OF_CONNECTIONS = 32_768;
const LOWEST = 10_000;
/** Browsers, and `fetch`, ask for nothing at it (Fetch standard, “port blocking”). */
const BLOCKED = 10_080;

/**
 * A port of loopback that nobody listens on, and that no outgoing connection is given by the system: a server that is
 * stopped and started again finds it free.
 */
export async function freePort(): Promise<number> {
  for (let tries = 0; tries < 1000; tries += 1) {
    const port = LOWEST + Math.floor(Math.random() * (firstOfConnections() - LOWEST));
    if (port !== BLOCKED && (await canListen(port))) return port;
  }
  throw new Error('No port of loopback is free');
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
