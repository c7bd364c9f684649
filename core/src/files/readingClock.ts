import type { Visit } from '../contract/file.js';
import { FILE_LIMITS, IDLE_MS, SKIMMED_MS } from './limits.js';

/** What happens in the window of somebody who reads. */
export type ClockEvent =
  | { kind: 'page'; page: number }
  | { kind: 'visible'; is: boolean }
  | { kind: 'focused'; is: boolean }
  /** Somebody scrolled, pressed, moved or typed. */
  | { kind: 'activity' }
  /** A film or a recording begins or stops to play: while it does, nobody needs to do anything. */
  | { kind: 'playing'; is: boolean }
  | { kind: 'tick' };

export interface ReadingClock {
  visible: boolean;
  focused: boolean;
  playing: boolean;
  /** Whether anybody has done anything yet. */
  active: boolean;
  lastActivityAt: number;
  /** Up to when time has been counted. */
  countedTo: number;
  /** The last one is the page that is shown. */
  visits: readonly Visit[];
}

/** Whether it is a document, which is read by somebody who does something, or plays by itself. */
export type Medium = 'read' | 'played';

/** At the moment when the first page is shown. Opening it was an act: it counts as activity, but proves nobody. */
export function startReading(at: number, window: { visible: boolean; focused: boolean }, page = 1): ReadingClock {
  return {
    ...window,
    playing: false,
    active: false,
    lastActivityAt: at,
    countedTo: at,
    visits: [{ visit: 1, page, ms: 0 }],
  };
}

/**
 * The clock after what happened at a time. A page is read while it is visible, its window has the focus, and its reader
 * has done something within the last minute; a film counts while it plays and is visible.
 *
 * Pure. Times are in milliseconds of any clock that does not go backwards; one that does adds nothing.
 */
export function advance(clock: ReadingClock, at: number, clockEvent: ClockEvent, medium: Medium): ReadingClock {
  const now = Math.max(at, clock.countedTo);
  const next = counted(clock, now, medium);
  switch (clockEvent.kind) {
    case 'tick':
      return next;
    case 'page':
      return clockEvent.page === clock.visits.at(-1)!.page ? next : { ...next, visits: turned(next, clockEvent.page) };
    case 'activity':
      return { ...next, active: true, lastActivityAt: now };
    default:
      return { ...next, [clockEvent.kind]: clockEvent.is };
  }
}

/** What is worth telling: pages that were passed over are not. */
export function visitsOf({ visits }: ReadingClock): Visit[] {
  return visits.filter(({ ms }) => ms >= SKIMMED_MS).map((visit) => ({ ...visit, ms: Math.round(visit.ms) }));
}

function counted(clock: ReadingClock, now: number, medium: Medium): ReadingClock {
  const isCounting = clock.visible && (medium === 'played' ? clock.playing : clock.focused);
  const until = medium === 'played' ? now : Math.min(now, clock.lastActivityAt + IDLE_MS);
  const ms = isCounting ? Math.max(0, until - clock.countedTo) : 0;
  const last = clock.visits.at(-1)!;
  const read = { ...last, ms: Math.min(last.ms + ms, FILE_LIMITS.maxVisitMs) };
  return { ...clock, countedTo: now, visits: ms > 0 ? [...clock.visits.slice(0, -1), read] : clock.visits };
}

/** A page that was passed over leaves its place to the next; after very many, no more are counted. */
function turned({ visits }: ReadingClock, page: number): readonly Visit[] {
  const last = visits.at(-1)!;
  if (last.ms < SKIMMED_MS) {
    const before = visits.at(-2);
    // Back where one was before the passing over: the same visit goes on.
    if (before?.page === page) return visits.slice(0, -1);
    return [...visits.slice(0, -1), { visit: last.visit, page, ms: 0 }];
  }
  if (visits.length >= FILE_LIMITS.maxVisits) return visits;
  return [...visits, { visit: last.visit + 1, page, ms: 0 }];
}
