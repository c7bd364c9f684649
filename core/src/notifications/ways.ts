import type { Notice, NoticeKind, NoticesView, NoticeWay, QuietHours } from '../contract/index.js';
import { clockWords, MINUTE } from '../time/words.js';

/** What happened longer ago than this is no news, and listed with what was missed. */
export const FRESH_MS = MINUTE;

/** What is told how until the user says otherwise. */
export const RINGS_AT_FIRST: Record<NoticeKind, NoticeWay[]> = {
  opened_first: ['page', 'system'],
  opened_again: ['page'],
  heating_up: ['page', 'system'],
  came_back: ['page', 'system'],
  clicked: ['page', 'system'],
  file_viewed: ['page', 'system'],
  answered: ['page', 'system'],
  reminder_due: ['page', 'system'],
  bounced: ['page', 'system'],
  opted_out: ['page'],
};

/** How a notice is to be told at a time: not at all while it is quiet, or when it is old. */
export function waysOf(notice: Pick<Notice, 'kind' | 'at'>, settings: NoticesView, now: number): NoticeWay[] {
  if (notice.kind === null || now - notice.at > FRESH_MS || isQuiet(settings, now)) return [];
  return settings.rings[notice.kind];
}

/** Whether nothing is to be told now. */
export function isQuiet({ quietHours, zone, quietUntil }: NoticesView, now: number): boolean {
  return (quietUntil !== null && now < quietUntil) || (quietHours !== null && isWithin(quietHours, now, zone));
}

/** From the one reading of the clocks up to, and without, the other; the same twice is never. */
function isWithin({ from, to }: QuietHours, now: number, zone: string): boolean {
  const time = clockWords(now, zone);
  return from <= to ? time >= from && time < to : time >= from || time < to;
}
