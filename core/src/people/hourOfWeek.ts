import { HOUR } from '../time/words.js';

const DAYS_MS = 24 * HOUR;
/** 1 January 1970 was a Thursday; weeks are counted from Monday. */
const EPOCH_WEEKDAY = 3;

/** By zone and hour: offsets stay the same within an hour, and asking for one costs more than all the rest. */
const offsets = new Map<string, Map<number, number>>();
const MAX_CACHED_OFFSETS = 20_000;

/** Weekday from Monday (0), hour, and the reading of the zone's clocks as if it were UTC. */
export function hourOfWeek(at: number, zone: string): { weekday: number; hour: number; localMs: number } {
  const localMs = at + offsetMs(at, zone);
  const day = Math.floor(localMs / DAYS_MS);
  return {
    weekday: (((day + EPOCH_WEEKDAY) % 7) + 7) % 7,
    hour: Math.floor((localMs - day * DAYS_MS) / HOUR),
    localMs,
  };
}

/** How far the clocks of a zone are ahead of UTC at a moment. */
function offsetMs(at: number, zone: string): number {
  const key = Math.floor(at / HOUR);
  let known = offsets.get(zone);
  if (!known || known.size > MAX_CACHED_OFFSETS) offsets.set(zone, (known = new Map()));
  const found = known.get(key);
  if (found !== undefined) return found;
  const parts = Object.fromEntries(
    format(zone)
      .formatToParts(at)
      .map(({ type, value }) => [type, Number(value)]),
  );
  const { year, month, day, hour, minute, second } = parts as Record<string, number>;
  const offset = Date.UTC(year!, month! - 1, day, hour, minute, second) - Math.floor(at / 1000) * 1000;
  known.set(key, offset);
  return offset;
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
