import dayjs from 'dayjs';
import updateLocale from 'dayjs/plugin/updateLocale';
import type { TimeFormat, TimeFormatView } from '@kiraku/core/contract';
import { setTimeFormat, timeFormat, timeFormatOf } from '@kiraku/core/time';

dayjs.extend(updateLocale);

const DATE_PATTERNS: Record<TimeFormat['dateOrder'], string> = {
  'day-month': 'D MMM YYYY',
  'month-day': 'MMM D, YYYY',
  'year-month-day': 'YYYY-MM-DD',
};

/** What this browser’s user reads. */
export const BROWSER_FORMAT: TimeFormat = timeFormatOf(navigator.language);

/** The format to use: what the user chose, else the browser’s. */
export function usedFormat(stored: TimeFormatView | null): TimeFormatView {
  return stored?.isChosen ? stored : { ...BROWSER_FORMAT, isChosen: false };
}

/** Uses a format from now on, for what is written and for the calendars of fields. */
export function applyTimeFormat(format: TimeFormat): void {
  setTimeFormat(format);
  dayjs.updateLocale('en', { weekStart: format.firstDay });
}

/** How fields show a time of day, a date, and both, in the patterns of dayjs. */
export function fieldPatterns(): { time: string; date: string; both: string; use12Hours: boolean } {
  const { clock, dateOrder } = timeFormat();
  const time = clock === '24h' ? 'HH:mm' : 'h:mm A';
  const date = DATE_PATTERNS[dateOrder];
  return { time, date, both: `ddd, ${date}, ${time}`, use12Hours: clock === '12h' };
}
