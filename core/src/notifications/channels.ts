import type {
  NotificationView,
  NotificationKind,
  NotificationSettingsView,
  NotificationChannel,
  QuietHours,
} from '../contract/index.js';
import { timeOfDay, MINUTE } from '../time/words.js';

/** What happened longer ago than this is no news, and listed with what was missed. */
export const NOTIFY_WITHIN_MS = MINUTE;

/** Which activity notifies how, until the user says otherwise. */
export const DEFAULT_CHANNELS: Record<NotificationKind, NotificationChannel[]> = {
  opened_first: ['page', 'desktop', 'push'],
  opened_again: ['page'],
  heating_up: ['page', 'desktop', 'push'],
  came_back: ['page', 'desktop', 'push'],
  clicked: ['page', 'desktop', 'push'],
  file_viewed: ['page', 'desktop', 'push'],
  replied: ['page', 'desktop', 'push'],
  reminder_due: ['page', 'desktop', 'push'],
  bounced: ['page', 'desktop', 'push'],
  opted_out: ['page'],
  check_failed: ['page', 'desktop', 'push', 'email'],
};

/** How a notification is to be shown at a time: not at all while it is quiet, or when it is old. */
export function channelsOf(
  notification: Pick<NotificationView, 'kind' | 'at'>,
  settings: NotificationSettingsView,
  now: number,
): NotificationChannel[] {
  if (notification.kind === null || now - notification.at > NOTIFY_WITHIN_MS || isQuiet(settings, now)) return [];
  return settings.channels[notification.kind];
}

/** Whether nothing notifies now. */
export function isQuiet({ quietHours, zone, mutedUntil }: NotificationSettingsView, now: number): boolean {
  return (mutedUntil !== null && now < mutedUntil) || (quietHours !== null && isWithin(quietHours, now, zone));
}

/** From the one reading of the clocks up to, and without, the other; the same twice is never. */
function isWithin({ from, to }: QuietHours, now: number, zone: string): boolean {
  const time = timeOfDay(now, zone);
  return from <= to ? time >= from && time < to : time >= from || time < to;
}
