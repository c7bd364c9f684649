import { lookup } from 'node:dns/promises';
import net from 'node:net';
import { setTimeout as pause } from 'node:timers/promises';

/** A socket as Node has it below its servers. */
interface Socket {
  getsockname(out: object): number;
  close(): void;
}

type Bind = (address: string, port: number, family: number, fd: number, flags: number) => Socket | number;

const BIND_RETRY_MS = 20;
const BIND_DEADLINE_MS = 15_000;

/**
 * Binds a socket on which this process does not accept: children do. While one is started anew, who comes waits in the
 * system’s queue and is not refused. A server of `node:net` would accept here; `_createServerHandle` does not, and is
 * what `node:cluster` shares its sockets with.
 *
 * @throws where the address is still taken after a quarter of a minute, or is none of this machine
 */
export async function bindSocket(host: string, port: number): Promise<Socket> {
  const { address, family } = await lookup(host);
  const deadline = performance.now() + BIND_DEADLINE_MS;
  for (;;) {
    const socket = bindNow(address, port, family);
    if (typeof socket !== 'number') return socket;
    if (performance.now() > deadline)
      throw new Error(`Port ${port} of ${host} cannot be had (${socket}). Is something else running there?`);
    await pause(BIND_RETRY_MS);
  }
}

/** That an address is taken shows when its name is asked for. */
function bindNow(address: string, port: number, family: number): Socket | number {
  const { _createServerHandle: bind } = net as unknown as { _createServerHandle: Bind };
  const socket = bind(address, port, family, -1, 0);
  if (typeof socket === 'number') return socket;
  const problem = socket.getsockname({});
  if (problem === 0) return socket;
  socket.close();
  return problem;
}
