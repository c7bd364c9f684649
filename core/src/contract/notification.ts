/** What may notify the moment it happens. */
export const NOTIFICATION_KINDS = [
  'opened_first',
  'opened_again',
  'heating_up',
  'came_back',
  'clicked',
  'file_viewed',
  'replied',
  'reminder_due',
  'bounced',
  'opted_out',
  'check_failed',
] as const;
export type NotificationKind = (typeof NOTIFICATION_KINDS)[number];

/**
 * How one is notified: in the page, by the system (also when no window of Kiraku is open, on devices that were registered),
 * by a sound, or by an e-mail to oneself where nobody looked.
 */
export const NOTIFICATION_CHANNELS = ['page', 'desktop', 'push', 'sound', 'email'] as const;
export type NotificationChannel = (typeof NOTIFICATION_CHANNELS)[number];

/** A span of the day by the clocks of the user’s zone, “22:00” to “07:30”: it may go over midnight. */
export interface QuietHours {
  from: string;
  to: string;
}

/** Which activity notifies, how, and when not. */
export interface NotificationSettingsView {
  channels: Record<NotificationKind, NotificationChannel[]>;
  /** Whether notifications in the page stay until they are dismissed. */
  stay: boolean;
  quietHours: QuietHours | null;
  /** IANA name of the zone whose clocks the quiet hours go by. */
  zone: string;
  /** Until when all is quiet, by one press; null where it is not. */
  mutedUntil: number | null;
}

/** Something that happened, in words. */
export interface NotificationView {
  /** 0 for a reminder. */
  eventId: number;
  at: number;
  /** Null for one of a burst that has notified already: it changes the words of what is still shown. */
  kind: NotificationKind | null;
  /** Where it leads at the desk. */
  path: string;
  /** The same for what belongs together: a later notification takes the place of an earlier one. */
  tag: string;
  title: string;
  detail: string;
  /** How it notifies now; empty in quiet hours. */
  by: NotificationChannel[];
}

/** What happened since somebody last looked, newest first. */
export interface MissedNotifications {
  notifications: NotificationView[];
  /** How many more there were. */
  leftOut: number;
}

/** A browser that is notified although no window of Kiraku is open in it (RFC 8030). */
export interface PushDevice {
  id: number;
  name: string;
  createdAt: number;
  /** When it was notified last, and the push service took it. */
  notifiedAt: number | null;
}
