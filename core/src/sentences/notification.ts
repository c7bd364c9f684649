import type { EventView } from '../contract/event.js';
import { capital, counted, durationWords } from '../time/words.js';
import { subjectText } from './event.js';
import { personText, times } from './words.js';

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
  return [`${counted(count, 'event')} at once`, `${titles.join('; ')} …`];
}
