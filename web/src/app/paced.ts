import type { LiveUpdate } from '@kiraku/core/contract';

/** In a window that is not painted, since it is hidden, what comes is told this much later at most. */
const UNPAINTED_MS = 50;

/**
 * Passes updates on at the pace at which they can be painted. The first is passed on at once; what comes until the next
 * frame is passed on as one: under a burst of activity a slow machine would else fall behind farther and farther.
 *
 * @returns `take` is given each update; `close` lets go of what waits
 */
export function paced(onUpdate: (update: LiveUpdate) => void): { take(update: LiveUpdate): void; close(): void } {
  let waiting: LiveUpdate | undefined;
  let frame: number | undefined;
  let timer: number | undefined;

  const rest = () => {
    cancelAnimationFrame(frame!);
    clearTimeout(timer);
    frame = timer = undefined;
  };

  function painted(): void {
    rest();
    const update = waiting;
    waiting = undefined;
    if (update) pass(update);
  }

  function pass(update: LiveUpdate): void {
    frame = requestAnimationFrame(painted);
    timer = window.setTimeout(painted, UNPAINTED_MS);
    onUpdate(update);
  }

  return {
    take: (update) => {
      if (frame === undefined) pass(update);
      else waiting = waiting ? joined(waiting, update) : update;
    },
    close: () => {
      rest();
      waiting = undefined;
    },
  };
}

/** Two updates as if they had come as one: of a message that changed twice, its newer row. */
function joined(first: LiveUpdate, second: LiveUpdate): LiveUpdate {
  const rows = new Map([...first.messages, ...second.messages].map((row) => [row.id, row]));
  return {
    events: [...first.events, ...second.events],
    notifications: [...first.notifications, ...second.notifications],
    corrected: [...first.corrected, ...second.corrected],
    messages: [...rows.values()],
    isReminded: first.isReminded || second.isReminded,
    draftsChanged: first.draftsChanged || second.draftsChanged,
    gap: first.gap || second.gap,
  };
}
