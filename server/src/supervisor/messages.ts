import type { NotRecordedView, ProcessView } from '@kiraku/core/contract';

/** From the public site: it wants the socket to listen on, it listens, or what it could not write down. */
export type FromPublicSite = { kind: 'ready' } | { kind: 'listening' } | { kind: 'notRecorded'; what: NotRecordedView };

/** The sockets that the public site listens on: its own, and where it is encrypted by itself the one that is not. */
export type PublicSocket = 'public' | 'plain';

/** To the public site, with the socket. */
export interface SocketMessage {
  kind: 'socket';
  of: PublicSocket;
}

/** To the desk: how all processes are. */
export interface StateMessage {
  kind: 'state';
  processes: ProcessView[];
  notRecorded: NotRecordedView | null;
}
