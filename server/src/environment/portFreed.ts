import { createServer } from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';

const PORT_RETRY_MS = 50;
const PORT_DEADLINE_MS = 15_000;

/**
 * Resolves when nobody listens on a port any more: the desk before this one may still be ending, and its other ports are
 * free when this one is. After a quarter of a minute it resolves all the same; whoever listens then is told why not.
 */
export async function portFreed(host: string, port: number): Promise<void> {
  const deadline = performance.now() + PORT_DEADLINE_MS;
  while (!(await isFree(host, port)) && performance.now() < deadline) await pause(PORT_RETRY_MS);
}

function isFree(host: string, port: number): Promise<boolean> {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, host, () => server.close(() => resolve(true)));
  });
}
