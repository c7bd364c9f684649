import type { LiveUpdate } from '@kiraku/core/contract';

/** What comes is passed on this much later at most, also where a frame takes longer, or the window is hidden and has none. */
const UNPAINTED_MS = 50;

/**
 * Passes updates on at the pace at which they can be painted. The first is passed on at once; what comes until the next
 * frame is passed on then, one after the other, and drawn once: under a burst of activity a slow machine would else fall
 * behind farther and farther.
 *
 * @returns `take` is given each update; `close` passes on what waits, since nobody else knows of it any more
 */
export function paced(onUpdate: (update: LiveUpdate) => void): { take(update: LiveUpdate): void; close(): void } {
  let waiting: LiveUpdate[] = [];
  let frame: number | undefined;
  let timer: number | undefined;

  function rest(): void {
    if (frame !== undefined) cancelAnimationFrame(frame);
    clearTimeout(timer);
    frame = timer = undefined;
  }

  function passAll(): void {
    const updates = waiting;
    waiting = [];
    for (const update of updates) onUpdate(update);
  }

  function painted(): void {
    rest();
    if (waiting.length > 0) pass();
  }

  function pass(): void {
    frame = requestAnimationFrame(painted);
    timer = window.setTimeout(painted, UNPAINTED_MS);
    passAll();
  }

  return {
    take: (update) => {
      waiting.push(update);
      if (frame === undefined) pass();
    },
    close: () => {
      rest();
      passAll();
    },
  };
}
