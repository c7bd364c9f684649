import type { Socket } from 'node:net';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { networkOf } from '@kiraku/core/tracking';

/** As many as a busy office makes at once over one address. */
const MAX_CONNECTIONS_PER_ADDRESS = 256;
/** Programs send a request when the answer before it is there; a few do not wait for it (RFC 9112, section 9.3.2). */
const MAX_PENDING_REQUESTS = 4;

/** Keeps one visitor from taking the public site for themselves: others stand behind what they ask for. */
export class ConnectionLimits {
  private readonly connections = new Map<string, number>();
  private readonly pending = new WeakMap<Socket, ServerResponse[]>();

  /** @param isProxy whether an address is one of those that bring many visitors */
  constructor(private readonly isProxy: (address: string) => boolean) {}

  /** Counts a connection, or closes it where its address has too many. */
  admit(socket: Socket): void {
    // Whoever has an IPv6 address has a whole network of them (RFC 6177).
    const address = socket.remoteAddress ?? '';
    const network = networkOf(address);
    const open = this.connections.get(network) ?? 0;
    if (open >= MAX_CONNECTIONS_PER_ADDRESS && !this.isProxy(address)) return void socket.destroy();
    this.connections.set(network, open + 1);
    socket.once('close', () => {
      const left = this.connections.get(network)! - 1;
      if (left > 0) this.connections.set(network, left);
      else this.connections.delete(network);
    });
  }

  /** Counts a request until it is answered. False, and its connection closed, where too many before it are not. */
  enter({ socket }: IncomingMessage, response: ServerResponse): boolean {
    if (socket.destroyed) return false;
    let pending = this.pending.get(socket);
    if (!pending) this.pending.set(socket, (pending = []));
    // They are answered in their order (RFC 9112, section 9.3.2).
    while (pending[0]?.writableFinished) pending.shift();
    if (pending.length >= MAX_PENDING_REQUESTS) {
      socket.destroy();
      return false;
    }
    pending.push(response);
    return true;
  }
}
