import type { DateOrder } from '../contract/time.js';
import { timeFormat } from './timeFormat.js';

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

/** “2 Nov”, or “2 Nov 2025” where the year is another; in the user’s order. */
export function dateWords(at: number, now: number, zone?: string): string {
  const parts = partsOf(at, zone);
  return dateOf(parts, parts.year !== partsOf(now, zone).year);
}

/** The exact time with its date, for the hover: “Mon, 2 Nov 2026, 09:40:12”. */
export function exactWords(at: number, zone?: string): string {
  const parts = partsOf(at, zone);
  return `${parts.weekday}, ${dateOf(parts, true)}, ${clockOf(parts, true)}`;
}

/** A time that was agreed upon: “Mon, 2 Nov 2026, 09:40”. */
export function appointmentWords(at: number, zone?: string): string {
  const parts = partsOf(at, zone);
  return `${parts.weekday}, ${dateOf(parts, true)}, ${clockOf(parts)}`;
}

/** Time of day: “09:40”, “9:40 AM”. */
export function clockWords(at: number, zone?: string): string {
  return clockOf(partsOf(at, zone));
}

/** What the clocks of a zone show, from “00:00” to “23:59”: to compare and to keep, whatever the user’s format. */
export function timeOfDay(at: number, zone?: string): string {
  const { hour, minute } = partsOf(at, zone);
  return `${twoDigits(hour)}:${minute}`;
}

/** A whole hour of the day: “10:00”, “10 AM”. */
export function hourWords(hour: number): string {
  return timeFormat().clock === '24h' ? `${String(hour).padStart(2, '0')}:00` : `${hour % 12 || 12} ${halfOf(hour)}`;
}

/** For a list: the time of day today, weekday and time within six days, the date before that. */
export function shortWords(at: number, now: number, zone?: string): string {
  const parts = partsOf(at, zone);
  const today = partsOf(now, zone);
  if (parts.day === today.day && parts.month === today.month && parts.year === today.year) return clockOf(parts);
  if (Math.abs(now - at) < 6 * DAY) return `${parts.weekday} ${clockOf(parts)}`;
  return dateOf(parts, parts.year !== today.year);
}

/** What the clocks of a zone show. */
interface Parts {
  /** “Mon”. */
  weekday: string;
  day: number;
  /** From 1. */
  month: number;
  year: string;
  /** From 0 to 23. */
  hour: number;
  minute: string;
  second: string;
}

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

const DATES: Record<DateOrder, (parts: Parts, withYear: boolean) => string> = {
  'day-month': ({ day, month, year }, withYear) => `${day} ${MONTHS[month - 1]}${withYear ? ` ${year}` : ''}`,
  'month-day': ({ day, month, year }, withYear) => `${MONTHS[month - 1]} ${day}${withYear ? `, ${year}` : ''}`,
  // ISO 8601 knows no date without a year.
  'year-month-day': ({ day, month, year }) => `${year}-${twoDigits(month)}-${twoDigits(day)}`,
};

function dateOf(parts: Parts, withYear: boolean): string {
  return DATES[timeFormat().dateOrder](parts, withYear);
}

function clockOf({ hour, minute, second }: Parts, withSeconds = false): string {
  const rest = withSeconds ? `${minute}:${second}` : minute;
  return timeFormat().clock === '24h' ? `${twoDigits(hour)}:${rest}` : `${hour % 12 || 12}:${rest} ${halfOf(hour)}`;
}

function halfOf(hour: number): string {
  return hour < 12 ? 'AM' : 'PM';
}

function twoDigits(number: number): string {
  return String(number).padStart(2, '0');
}

const formats = new Map<string | undefined, Intl.DateTimeFormat>();

/** Making a formatter costs a hundred times more than using it, and a list uses the same one for each row. */
function partsOf(at: number, zone?: string): Parts {
  let made = formats.get(zone);
  if (!made) {
    made = new Intl.DateTimeFormat('en-US', {
      weekday: 'short',
      day: 'numeric',
      month: 'numeric',
      year: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
      second: '2-digit',
      hourCycle: 'h23',
      timeZone: zone,
    });
    formats.set(zone, made);
  }
  const parts = Object.fromEntries(made.formatToParts(at).map(({ type, value }) => [type, value]));
  return {
    weekday: parts['weekday']!,
    day: Number(parts['day']),
    month: Number(parts['month']),
    year: parts['year']!,
    hour: Number(parts['hour']),
    minute: parts['minute']!,
    second: parts['second']!,
  };
}
