import { timeFormat } from './timeFormat.js';
import { DAY, dateWords } from './words.js';

/** A stretch of time in epoch milliseconds: from a moment on, and before another. Null: open on that side. */
export interface Stretch {
  from: number | null;
  to: number | null;
}

interface NamedPeriod {
  name: string;
  words: string;
  stretch(now: number): Stretch;
}

/** Days begin at midnight by the clocks of the machine that this runs on: the user’s. */
const midnight = (at: number, addDays = 0) => {
  const date = new Date(at);
  return new Date(date.getFullYear(), date.getMonth(), date.getDate() + addDays).getTime();
};
const monthStart = (at: number, addMonths = 0) => {
  const date = new Date(at);
  return new Date(date.getFullYear(), date.getMonth() + addMonths, 1).getTime();
};
/** Weeks begin on the day that the user’s do. */
const dayOfWeek = (at: number) => (new Date(at).getDay() - timeFormat().firstDay + 7) % 7;

export const PERIODS: readonly NamedPeriod[] = [
  { name: '', words: 'at any time', stretch: () => ({ from: null, to: null }) },
  { name: 'today', words: 'today', stretch: (now) => ({ from: midnight(now), to: null }) },
  {
    name: 'this-week',
    words: 'this week',
    stretch: (now) => ({ from: midnight(now, -dayOfWeek(now)), to: null }),
  },
  { name: '7-days', words: 'in the last 7 days', stretch: (now) => ({ from: now - 7 * DAY, to: null }) },
  { name: '30-days', words: 'in the last 30 days', stretch: (now) => ({ from: now - 30 * DAY, to: null }) },
  { name: '90-days', words: 'in the last 90 days', stretch: (now) => ({ from: now - 90 * DAY, to: null }) },
  { name: '365-days', words: 'in the last 365 days', stretch: (now) => ({ from: now - 365 * DAY, to: null }) },
  { name: 'this-month', words: 'this month', stretch: (now) => ({ from: monthStart(now), to: null }) },
  { name: 'last-month', words: 'last month', stretch: (now) => ({ from: monthStart(now, -1), to: monthStart(now) }) },
  { name: 'over-week-ago', words: 'more than a week ago', stretch: (now) => ({ from: null, to: now - 7 * DAY }) },
  { name: 'over-30-days-ago', words: 'more than 30 days ago', stretch: (now) => ({ from: null, to: now - 30 * DAY }) },
];

const RANGE = /^(?:(\d{4})-(\d\d)-(\d\d))?\.\.(?:(\d{4})-(\d\d)-(\d\d))?$/;

/**
 * Reads a period as an address names it: one of `PERIODS`, or days like “2026-10-01..2026-10-31”, one of which may be left
 * out. Null where it is neither.
 */
export function readPeriod(text: string, now: number): Stretch | null {
  const named = PERIODS.find(({ name }) => name === text);
  if (named) return named.stretch(now);
  const parts = RANGE.exec(text)?.slice(1);
  if (!parts || text === '..') return null;
  const [first, last] = [dayOf(parts.slice(0, 3)), dayOf(parts.slice(3))];
  if (first === null || last === null) return null;
  return { from: first ?? null, to: last === undefined ? null : midnight(last, 1) };
}

/** How an address names whole days: what {@link readPeriod} reads as this stretch. */
export function daysText({ from, to }: Stretch): string {
  return `${from === null ? '' : isoDay(from)}..${to === null ? '' : isoDay(midnight(to, -1))}`;
}

/** “last month”, “since 1 Oct”, “from 1 Oct to 31 Oct”. */
export function periodWords(text: string, now: number): string {
  const named = PERIODS.find(({ name }) => name === text);
  if (named) return named.words;
  const { from, to } = readPeriod(text, now) ?? { from: null, to: null };
  const [first, last] = [from !== null && dateWords(from, now), to !== null && dateWords(to - 1, now)];
  if (first && last) return `from ${first} to ${last}`;
  if (first) return `since ${first}`;
  return last ? `up to ${last}` : 'at any time';
}

/** Undefined where none is named, null for a day that is in no calendar. */
function dayOf([year, month, day]: (string | undefined)[]): number | null | undefined {
  if (year === undefined) return undefined;
  const date = new Date(Number(year), Number(month) - 1, Number(day));
  return date.getMonth() === Number(month) - 1 && date.getDate() === Number(day) ? date.getTime() : null;
}

/** “2026-10-01”. */
function isoDay(at: number): string {
  const date = new Date(at);
  const [month, day] = [date.getMonth() + 1, date.getDate()].map((part) => String(part).padStart(2, '0'));
  return `${date.getFullYear()}-${month}-${day}`;
}
