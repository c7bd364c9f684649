export const SECOND = 1000;
export const MINUTE = 60 * SECOND;
export const HOUR = 60 * MINUTE;
export const DAY = 24 * HOUR;
export const WEEK = 7 * DAY;

const UNITS: [lengthMs: number, one: string][] = [
  [DAY, 'day'],
  [HOUR, 'hour'],
  [MINUTE, 'minute'],
  [SECOND, 'second'],
];

/** “1 open”, “3 opens”. */
export function counted(count: number, one: string, many = `${one}s`): string {
  return `${count} ${count === 1 ? one : many}`;
}

/** A length of time in its largest whole unit: “41 minutes”, “6 days”; weeks from three weeks on. */
export function durationWords(durationMs: number): string {
  if (durationMs >= 3 * WEEK) return counted(Math.floor(durationMs / WEEK), 'week');
  for (const [lengthMs, one] of UNITS) {
    if (durationMs >= lengthMs) return counted(Math.floor(durationMs / lengthMs), one);
  }
  return 'a moment';
}

/** The same words at the beginning of a sentence. */
export function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** “just now”, “12 minutes ago”, up to a day; then the date, with the year where it is another. Zone: IANA name. */
export function whenWords(at: number, now: number, zone?: string): string {
  const ageMs = now - at;
  if (ageMs < 45 * SECOND) return 'just now';
  if (ageMs < DAY) return `${durationWords(Math.max(ageMs, MINUTE))} ago`;
  return `on ${dateWords(at, now, zone)}`;
}

/** “2 Nov”, or “2 Nov 2025” where the year is another. */
export function dateWords(at: number, now: number, zone?: string): string {
  const sameYear = yearOf(at, zone) === yearOf(now, zone);
  return format(at, { day: 'numeric', month: 'short', ...(sameYear ? {} : { year: 'numeric' }), timeZone: zone });
}

/** The exact time with its date, for the hover: “Mon, 2 Nov 2026, 09:40:12”. */
export function exactWords(at: number, zone?: string): string {
  return format(at, {
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    timeZone: zone,
  });
}

/** A time that was agreed upon: “Mon, 2 Nov 2026, 09:40”. */
export function appointmentWords(at: number, zone?: string): string {
  return format(at, {
    ...{ weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' },
    ...{ hour: '2-digit', minute: '2-digit', timeZone: zone },
  });
}

/** Time of day, “09:40”. */
export function clockWords(at: number, zone?: string): string {
  return format(at, { hour: '2-digit', minute: '2-digit', timeZone: zone });
}

/** For a list: the time of day today, weekday and time within six days, the date before that. */
export function shortWords(at: number, now: number, zone?: string): string {
  if (format(at, { dateStyle: 'short', timeZone: zone }) === format(now, { dateStyle: 'short', timeZone: zone }))
    return clockWords(at, zone);
  if (now - at < 6 * DAY)
    return format(at, { weekday: 'short', hour: '2-digit', minute: '2-digit', timeZone: zone }).replace(',', '');
  return dateWords(at, now, zone);
}

function yearOf(at: number, zone?: string): string {
  return format(at, { year: 'numeric', timeZone: zone });
}

const formats = new Map<string, Intl.DateTimeFormat>();

/** Making a formatter costs a hundred times more than using it, and a list uses the same few for each row. */
function format(at: number, options: Intl.DateTimeFormatOptions): string {
  const key = JSON.stringify(options);
  let made = formats.get(key);
  if (!made) formats.set(key, (made = new Intl.DateTimeFormat('en-GB', options)));
  return made.format(at);
}
