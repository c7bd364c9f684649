import type { NotRecordedView, ProcessView } from '@kiraku/core/contract';

/** From the public site: it wants the socket to listen on, it listens, or what it could not write down. */
export type FromPublicSite = { kind: 'ready' } | { kind: 'listening' } | { kind: 'notRecorded'; what: NotRecordedView };

/** To the public site, with the socket. */
export interface SocketMessage {
  kind: 'socket';
}

/** To the desk: how all processes are. */
export interface StateMessage {
  kind: 'state';
  processes: ProcessView[];
  notRecorded: NotRecordedView | null;
}
