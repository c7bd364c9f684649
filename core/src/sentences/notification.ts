import type { EventView } from '../contract/event.js';
import type { NotificationView } from '../contract/notification.js';
import { capital, counted, durationWords, exactWords } from '../time/words.js';
import { subjectText } from './event.js';
import { joined, personText, times } from './words.js';

/** So many events an email names; the others are counted. */
const MAX_EMAIL_LINES = 30;

/** The title of a notification, and one line of detail. */
export type NotificationText = [title: string, detail: string];

/** An open after a long time without one. */
export function comebackNotification(event: EventView, sinceMs: number): NotificationText {
  return [
    `${personText(event.recipient)} came back to ${subjectText(event)}`,
    `After ${durationWords(sinceMs)} without activity`,
  ];
}

/** Several opens within the hour. */
export function heatingUpNotification(event: EventView, opens: number): NotificationText {
  return [
    `${personText(event.recipient)} keeps opening ${subjectText(event)}`,
    `${capital(times('opened', opens))} within the hour`,
  ];
}

/** A reply: how it begins stands below who wrote it. */
export function replyNotification(event: EventView): NotificationText {
  return [`${personText(event.recipient)} replied to ${subjectText(event)}`, event.label ?? ''];
}

/** The same done several times within ten minutes: “Opened 3 times in 10 minutes”; null for what happened once. */
export function burstText(kind: EventView['kind'], count: number): string | null {
  if (count === 1) return null;
  if (kind === 'opened') return `${capital(times('opened', count))} in 10 minutes`;
  return kind === 'clicked' ? `${counted(count, 'click')} in 10 minutes` : null;
}

/** Many notifications that came at once, as one; `titles` are those it names. */
export function manyNotifications(count: number, titles: readonly string[]): NotificationText {
  return [manyText(count), `${titles.join('; ')} …`];
}

/** “12 events at once”. */
export function manyText(count: number): string {
  return `${counted(count, 'event')} at once`;
}

/**
 * What is written to the user of what nobody saw; at least one.
 *
 * @param deskUrl where Kiraku is opened, without a slash at its end
 * @param zone IANA name of the zone of times
 */
export function notificationsEmail(
  notifications: readonly Pick<NotificationView, 'title' | 'detail' | 'at' | 'path'>[],
  deskUrl: string,
  zone: string,
): { subject: string; text: string } {
  const [first] = notifications;
  const lines = notifications.slice(0, MAX_EMAIL_LINES).map(({ title, detail, at, path }) => {
    return `${title}\n${joined([exactWords(at, zone), detail], '. ')}\n${deskUrl}${path}\n`;
  });
  const more = notifications.length - lines.length;
  const others = notifications.length - 1;
  return {
    subject: others === 0 ? first!.title : `${first!.title}, and ${counted(others, 'event')} more`,
    text: [...lines, ...(more > 0 ? [`And ${more} more: ${deskUrl}/sent\n`] : [])].join('\n'),
  };
}
