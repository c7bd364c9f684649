import type { Socket } from 'node:net';
import type { IncomingMessage, ServerResponse } from 'node:http';
import QuickLRU from 'quick-lru';
import { networkOf } from '@kiraku/core/tracking';

/** As many as a busy office makes at once over one address. */
const MAX_CONNECTIONS_PER_ADDRESS = 256;
/** Programs send a request when the answer before it is there; a few do not wait for it (RFC 9112, section 9.3.2). */
const MAX_PENDING_REQUESTS = 4;

/** So long no more connections are taken from where one has sent too many at once. */
const SHUT_OUT_MS = 1000;
const MAX_SHUT_OUT = 1000;

/** Keeps one visitor from taking the public site for themselves: others stand behind what they ask for. */
export class ConnectionLimits {
  private readonly connections = new Map<string, Set<Socket>>();
  private readonly pending = new WeakMap<Socket, ServerResponse[]>();
  /** Networks from which no connections are taken for now. */
  private readonly shutOut = new QuickLRU<string, true>({ maxSize: MAX_SHUT_OUT, maxAge: SHUT_OUT_MS });

  /** @param isProxy whether an address is one of those that bring many visitors */
  constructor(private readonly isProxy: (address: string) => boolean) {}

  /** Counts a connection, or closes it where its address has too many. */
  admit(socket: Socket): void {
    const network = networkOfSocket(socket);
    const open = this.connections.get(network) ?? new Set();
    const isTooMany = open.size >= MAX_CONNECTIONS_PER_ADDRESS || this.shutOut.has(network);
    if (isTooMany && !this.isProxy(socket.remoteAddress ?? '')) return void socket.destroy();
    this.connections.set(network, open.add(socket));
    socket.once('close', () => {
      open.delete(socket);
      if (open.size === 0) this.connections.delete(network);
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
      this.close(socket);
      return false;
    }
    pending.push(response);
    return true;
  }

  /**
   * Closes a connection that sent too many requests at once, and those from the same place that have asked for nothing
   * yet: what one sends at once is read as one, and as much may lie ready in each of them.
   */
  private close(socket: Socket): void {
    const network = networkOfSocket(socket);
    const isOfMany = this.isProxy(socket.remoteAddress ?? '');
    socket.destroy();
    // Who comes over a proxy that was named is not answerable for the others.
    if (isOfMany) return;
    this.shutOut.set(network, true);
    for (const other of this.connections.get(network) ?? []) if (!this.pending.has(other)) other.destroy();
  }
}

/** Whoever has an IPv6 address has a whole network of them (RFC 6177). */
function networkOfSocket({ remoteAddress }: Socket): string {
  return networkOf(remoteAddress ?? '');
}
