import { DAY, HOUR, MINUTE, WEEK } from './words.js';

/** 1 January 1970 was a Thursday; weeks are counted from Monday. */
export const EPOCH_WEEKDAY = 3;
export const DAY_HOURS = 24;
export const HOURS_OF_WEEK = 7 * DAY_HOURS;

/** The hour of the week, from Monday’s first (0). */
export function weekHourOf(weekday: number, hour: number): number {
  return weekday * DAY_HOURS + hour;
}

/** Which weekday, from Monday (0), and which hour an hour of the week is. */
export function weekdayAndHour(weekHour: number): { weekday: number; hour: number } {
  return { weekday: Math.floor(weekHour / DAY_HOURS), hour: weekHour % DAY_HOURS };
}

/** From a time on, the clocks of a zone are so far ahead of UTC. */
export interface ClockChange {
  from: number;
  offsetMs: number;
}

/** What was before is read by the clocks of the first day, what will be after by those of the last. */
const FIRST = Date.UTC(1990, 0);
const LAST = Date.UTC(2100, 0);
/** No zone has set its clocks twice within as much. */
const STEP = 2 * WEEK;

const changesOf = new Map<string, { until: number; changes: ClockChange[] }>();

/** Weekday from Monday (0), hour, and the reading of the zone's clocks as if it were UTC. */
export function hourOfWeek(at: number, zone: string): { weekday: number; hour: number; localMs: number } {
  const localMs = at + offsetMs(at, zone);
  const day = Math.floor(localMs / DAY);
  return {
    weekday: (((day + EPOCH_WEEKDAY) % 7) + 7) % 7,
    hour: Math.floor((localMs - day * DAY) / HOUR),
    localMs,
  };
}

/**
 * When the clocks of a zone were set since 1990, the oldest first, up to a time at least.
 *
 * @param zone IANA name
 * @param until epoch milliseconds
 * @throws RangeError where there is no such zone
 */
export function clockChanges(zone: string, until: number): readonly ClockChange[] {
  const known = changesOf.get(zone);
  if (known && known.until >= Math.min(until, LAST)) return known.changes;
  const end = Math.min(until + 52 * WEEK, LAST);
  const changes = [{ from: FIRST, offsetMs: offsetAt(FIRST, zone) }];
  for (let at = FIRST; at < end; at += STEP) {
    const before = changes.at(-1)!.offsetMs;
    const offset = offsetAt(at + STEP, zone);
    if (offset !== before) changes.push({ from: changeWithin(at, before, zone), offsetMs: offset });
  }
  changesOf.set(zone, { until: end, changes });
  return changes;
}

/** The minute, within a step, from which on the clocks are not as before. */
function changeWithin(at: number, before: number, zone: string): number {
  let [same, other] = [0, STEP / MINUTE];
  while (other - same > 1) {
    const middle = Math.floor((same + other) / 2);
    if (offsetAt(at + middle * MINUTE, zone) === before) same = middle;
    else other = middle;
  }
  return at + other * MINUTE;
}

/** How far the clocks of a zone are ahead of UTC at a moment; mostly a late one is asked for. */
function offsetMs(at: number, zone: string): number {
  const changes = clockChanges(zone, at);
  let index = changes.length - 1;
  while (index > 0 && changes[index]!.from > at) index -= 1;
  return changes[index]!.offsetMs;
}

/** The same from the zone’s own rules: that costs many times as much. */
function offsetAt(at: number, zone: string): number {
  const parts = Object.fromEntries(
    format(zone)
      .formatToParts(at)
      .map(({ type, value }) => [type, Number(value)]),
  );
  const { year, month, day, hour, minute, second } = parts as Record<string, number>;
  return Date.UTC(year!, month! - 1, day, hour, minute, second) - Math.floor(at / 1000) * 1000;
}

const formats = new Map<string, Intl.DateTimeFormat>();

function format(zone: string): Intl.DateTimeFormat {
  let made = formats.get(zone);
  if (!made) {
    made = new Intl.DateTimeFormat('en-GB', {
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      hour: 'numeric',
      minute: 'numeric',
      second: 'numeric',
      hourCycle: 'h23',
      timeZone: zone,
    });
    formats.set(zone, made);
  }
  return made;
}
