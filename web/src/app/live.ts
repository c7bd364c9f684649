import type { LiveUpdate } from '@kiraku/core/contract';
import { SECOND } from '@kiraku/core/time';
import type { LiveState } from '../shared/store/liveSlice.js';

/** The server beats every 20 seconds: a longer pause means that the connection is gone, whatever the browser thinks. */
const HEARTBEAT_TIMEOUT_MS = 50 * SECOND;
const LIVE_RECONNECT_MS = 2 * SECOND;

interface Listener {
  /** Where the stream begins. */
  after: string;
  onUpdate(update: LiveUpdate): void;
  onState(state: LiveState): void;
}

/**
 * Listens to the live stream until it is closed. After a break it names the last push that was taken, so that nothing
 * is missed and nothing notifies twice.
 *
 * @returns closes the stream, and says after which push another is to go on
 */
export function listenLive({ after, onUpdate, onState }: Listener): () => string {
  let source: EventSource | undefined;
  let lastId = after;
  let watchdog: number | undefined;
  let closed = false;

  const heard = () => {
    clearTimeout(watchdog);
    watchdog = window.setTimeout(reconnect, HEARTBEAT_TIMEOUT_MS);
  };

  function connect(): void {
    if (closed) return;
    source = new EventSource(`/api/live?after=${encodeURIComponent(lastId)}`);
    source.addEventListener('open', () => onState('live'));
    source.addEventListener('beat', heard);
    source.addEventListener('message', (event: MessageEvent<string>) => {
      heard();
      lastId = event.lastEventId;
      onUpdate(JSON.parse(event.data) as LiveUpdate);
    });
    source.addEventListener('error', () => {
      onState('lost');
      // The browser tries again by itself, unless the response was an error.
      if (source?.readyState === EventSource.CLOSED) window.setTimeout(connect, LIVE_RECONNECT_MS);
    });
    heard();
  }

  function reconnect(): void {
    source?.close();
    connect();
  }

  const awake = () => {
    if (document.visibilityState === 'visible' && source?.readyState !== EventSource.OPEN) reconnect();
  };
  document.addEventListener('visibilitychange', awake);
  window.addEventListener('online', reconnect);
  connect();
  return () => {
    closed = true;
    clearTimeout(watchdog);
    source?.close();
    document.removeEventListener('visibilitychange', awake);
    window.removeEventListener('online', reconnect);
    return lastId;
  };
}
