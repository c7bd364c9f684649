import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

/** By the clocks of this machine, Monday to Friday. */
const FROM_HOUR = 8;
const TO_HOUR = 19;
const WORK_OF_DAY_MS = (TO_HOUR - FROM_HOUR) * HOUR;
/** A week of seven days has five of work. */
const WORK_PER_TIME = (5 * WORK_OF_DAY_MS) / (7 * DAY);
/** Moments this close belong together, and keep their distances: a reply after 41 minutes stays one. */
const TOGETHER_MS = 3 * HOUR;
/** What is newer than this happens now, at whatever hour the demo is started. */
export const LIVE_MS = 6 * HOUR;
/** Between what was apart before. */
const MIN_GAP_MS = 20 * MINUTE;

/** Whether a moment lies in working hours. */
export function isAtWork(at: number): boolean {
  const date = new Date(at);
  return date.getDay() % 6 !== 0 && date.getHours() >= FROM_HOUR && date.getHours() < TO_HOUR;
}

/**
 * Moves the moments of one message into working hours: ages shrink to the share of a week that is worked, counted back
 * from the last working moment, so that the order stays and a week stays a week.
 *
 * @param times epoch milliseconds, in any order
 * @returns the moments moved, in the order given; those of the last hours are left as they are
 */
export function toWorkingHours(times: readonly number[], now: number): number[] {
  const live = now - LIVE_MS;
  const end = lastWorkingMoment(live);
  const moved = new Map<number, number>();
  let anchor = -Infinity;
  let shift = 0;
  let last = -Infinity;
  for (const at of [...times].sort((a, b) => a - b)) {
    if (at > live) {
      moved.set(at, at);
      continue;
    }
    if (at - anchor > TOGETHER_MS) {
      anchor = at;
      const place = end === at ? at : before(end, Math.max(0, end - at) * WORK_PER_TIME);
      shift = Math.max(place, last + MIN_GAP_MS) - at;
    }
    last = Math.min(at + shift, live);
    moved.set(at, last);
  }
  return times.map((at) => moved.get(at)!);
}

function lastWorkingMoment(at: number): number {
  const date = new Date(at);
  while (!isAtWork(date.getTime())) {
    const isLater = date.getDay() % 6 !== 0 && date.getHours() >= TO_HOUR;
    if (!isLater) date.setDate(date.getDate() - 1);
    date.setHours(TO_HOUR - 1, 59, 0, 0);
  }
  return date.getTime();
}

/** The moment that lies so much working time before another one. */
function before(at: number, workMs: number): number {
  const date = new Date(at);
  for (let left = workMs; ;) {
    const start = new Date(date).setHours(FROM_HOUR, 0, 0, 0);
    const today = date.getTime() - start;
    if (left < today) return date.getTime() - left;
    left -= today;
    date.setDate(date.getDate() - 1);
    while (date.getDay() % 6 === 0) date.setDate(date.getDate() - 1);
    date.setHours(TO_HOUR, 0, 0, 0);
  }
}
