/** What may be told the moment it happens. */
export const NOTICE_KINDS = [
  'opened_first',
  'opened_again',
  'heating_up',
  'came_back',
  'clicked',
  'file_viewed',
  'answered',
  'reminder_due',
  'bounced',
  'opted_out',
] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];

/**
 * How it is told: in the page, by the system (also when no window of Kiraku is open, on devices that were registered),
 * by a sound, or by an e-mail to oneself where nobody looked.
 */
export const NOTICE_WAYS = ['page', 'system', 'sound', 'mail'] as const;
export type NoticeWay = (typeof NOTICE_WAYS)[number];

/** A span of the day by the clocks of the user’s zone, “22:00” to “07:30”: it may go over midnight. */
export interface QuietHours {
  from: string;
  to: string;
}

/** What is told, how, and when not. */
export interface NoticesView {
  rings: Record<NoticeKind, NoticeWay[]>;
  /** Whether notices in the page stay until they are put away. */
  stay: boolean;
  quietHours: QuietHours | null;
  /** IANA name of the zone whose clocks the quiet hours go by. */
  zone: string;
  /** Until when all is quiet, by one press; null where it is not. */
  quietUntil: number | null;
}

/** Something that happened, in words. */
export interface Notice {
  /** 0 for a reminder. */
  eventId: number;
  at: number;
  /** Null for one of a burst that was told already: it changes the words of what is still shown. */
  kind: NoticeKind | null;
  /** Where it leads at the desk. */
  path: string;
  /** The same for what belongs together: a later notice takes the place of an earlier one. */
  tag: string;
  title: string;
  detail: string;
  /** How it is to be told now; empty in quiet hours. */
  by: NoticeWay[];
}

/** What happened since somebody last looked, newest first. */
export interface MissedNotices {
  notices: Notice[];
  /** How many more there were. */
  leftOut: number;
}

/** A browser that is told although no window of Kiraku is open in it (RFC 8030). */
export interface PushDevice {
  id: number;
  name: string;
  createdAt: number;
  /** When it was told last, and the push service took it. */
  toldAt: number | null;
}
