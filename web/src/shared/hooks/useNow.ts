import { useSyncExternalStore } from 'react';
import { SECOND } from '@kiraku/core/time';

/** As often as “now” moves on for what is shown. */
const CLOCK_STEP_MS = 5 * SECOND;

let now = Date.now();
let timer: number | undefined;
const listeners = new Set<() => void>();

function tick(): void {
  now = Date.now();
  listeners.forEach((listener) => listener());
}

function subscribe(listener: () => void): () => void {
  listeners.add(listener);
  if (timer === undefined) {
    tick();
    timer = window.setInterval(tick, CLOCK_STEP_MS);
  }
  return () => {
    listeners.delete(listener);
    if (listeners.size > 0) return;
    clearInterval(timer);
    timer = undefined;
  };
}

/** The one “now” of the page, so that all relative times and trails agree. */
export function useNow(): number {
  return useSyncExternalStore(subscribe, () => now);
}
