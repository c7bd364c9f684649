import type { Clock, DateOrder, FirstDay, TimeFormat } from '../contract/time.js';

/** As in most of the world; used until a browser has said what its user reads. */
export const DEFAULT_TIME_FORMAT: TimeFormat = { clock: '24h', dateOrder: 'day-month', firstDay: 1 };

let current: TimeFormat = DEFAULT_TIME_FORMAT;

/**
 * Chooses how all times and dates are written from now on. One user, one format: the page sets it before it draws, the
 * server when it starts and when it is changed.
 */
export function setTimeFormat(format: TimeFormat): void {
  current = format;
}

/** The format that {@link setTimeFormat} has chosen. */
export function timeFormat(): TimeFormat {
  return current;
}

/**
 * What somebody reads whose browser speaks a language (BCP 47).
 *
 * @example timeFormatOf('en-US') // { clock: '12h', dateOrder: 'month-day', firstDay: 0 }
 */
export function timeFormatOf(language: string): TimeFormat {
  const { hourCycle } = new Intl.DateTimeFormat(language, { hour: 'numeric' }).resolvedOptions();
  const clock: Clock = hourCycle === 'h11' || hourCycle === 'h12' ? '12h' : '24h';
  return { clock, dateOrder: dateOrderOf(language), firstDay: firstDayOf(language) };
}

function dateOrderOf(language: string): DateOrder {
  const parts = new Intl.DateTimeFormat(language, { dateStyle: 'short' }).formatToParts(0).map(({ type }) => type);
  const [first] = parts.filter((type) => type === 'day' || type === 'month' || type === 'year');
  return first === 'year' ? 'year-month-day' : first === 'month' ? 'month-day' : 'day-month';
}

/** Unicode’s week data; where the engine does not have it, a week begins on Monday (ISO 8601). */
function firstDayOf(language: string): FirstDay {
  const locale = new Intl.Locale(language) as Intl.Locale & {
    getWeekInfo?(): { firstDay: number };
    weekInfo?: { firstDay: number };
  };
  const day = (locale.getWeekInfo?.() ?? locale.weekInfo)?.firstDay ?? 1;
  return day === 7 ? 0 : day === 6 ? 6 : 1;
}
