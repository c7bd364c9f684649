import type {
  Condition,
  EventView,
  Mailbox,
  NotificationKind,
  NotificationView,
  TrailEvent,
} from '../contract/index.js';
import { deviceText, eventSentence } from '../sentences/event.js';
import { reminderText } from '../sentences/followup.js';
import {
  burstText,
  comebackNotification,
  heatingUpNotification,
  replyNotification,
  type NotificationText,
} from '../sentences/notification.js';
import { HOUR, MINUTE } from '../time/words.js';
import { COMEBACK_MS, HEATING_UP_OPENS } from '../tracking/recency.js';

/** An open after as long as this without one notifies anew. */
export const OPEN_PAUSE_MS = 30 * MINUTE;
/** What happens within this time is notified together. */
const BURST_MS = 10 * MINUTE;

interface View {
  event: EventView;
  /** What the same recipient did with the same message before, as far as it counts, oldest first. */
  before: readonly TrailEvent[];
  /** The opens among it. */
  opens: readonly TrailEvent[];
}

/** What makes a notification of each kind, in the order in which they are looked for; the first that is given stands. */
const NOTIFICATIONS_BY_KIND: readonly {
  kind: NotificationKind;
  given(view: View): boolean;
  text?(view: View): NotificationText;
}[] = [
  {
    kind: 'came_back',
    given: ({ event, opens }) => event.kind === 'opened' && opens.length > 0 && sinceLast(event, opens) >= COMEBACK_MS,
    text: ({ event, opens }) => comebackNotification(event, sinceLast(event, opens)),
  },
  {
    kind: 'heating_up',
    // With the open that makes it so, and not with those that follow.
    given: ({ event, opens }) => event.kind === 'opened' && within(event, opens, HOUR).length === HEATING_UP_OPENS - 1,
    text: ({ event }) => heatingUpNotification(event, HEATING_UP_OPENS),
  },
  { kind: 'opened_first', given: ({ event, opens }) => event.kind === 'opened' && opens.length === 0 },
  {
    kind: 'opened_again',
    given: ({ event, opens }) => event.kind === 'opened' && sinceLast(event, opens) >= OPEN_PAUSE_MS,
  },
  { kind: 'clicked', given: ({ event }) => event.kind === 'clicked' },
  { kind: 'file_viewed', given: ({ event }) => event.kind === 'file_viewed' },
  { kind: 'replied', given: ({ event }) => event.kind === 'replied', text: ({ event }) => replyNotification(event) },
  { kind: 'bounced', given: ({ event }) => event.kind === 'bounced' },
  { kind: 'opted_out', given: ({ event }) => event.kind === 'opted_out' },
];

/**
 * As what an event notifies.
 *
 * @param before the counted marks of the same copy up to the event, oldest first
 * @returns null where it is not notified: not counted, muted, or of a kind that is not
 */
export function notificationOf(event: EventView, before: readonly TrailEvent[]): Omit<NotificationView, 'by'> | null {
  if (!event.counted || !event.notifies) return null;
  const view = { event, before, opens: before.filter((mark) => mark.kind === 'opened') };
  const found = NOTIFICATIONS_BY_KIND.find(({ given }) => given(view));
  // Of all that notifies, only opens come in bursts of which the later ones notify nobody.
  if (!found && event.kind !== 'opened') return null;
  const [title, detail] = found?.text?.(view) ?? [eventSentence(event), burstOf(view) ?? deviceText(event)];
  const { eventId, at, messageId } = event;
  return { eventId, at, path: `/sent/${messageId}`, tag: tagOf(event), kind: found?.kind ?? null, title, detail };
}

/** A reminder whose time has come, as far as it notifies. */
export interface DueReminder {
  id: number;
  dueAt: number;
  condition: Condition;
  note: string;
  messageId: number | null;
  subject: string | null;
  person: Mailbox | null;
}

/** “Marit Oakes: “Panels for the reading room” has no reply”. */
export function notificationOfReminder({ id, dueAt, ...notified }: DueReminder): Omit<NotificationView, 'by'> {
  const { messageId } = notified;
  const path = messageId === null ? '/followups' : `/sent/${messageId}`;
  const [title, detail] = reminderText(notified);
  return { eventId: 0, at: dueAt, path, tag: `reminder ${id}`, kind: 'reminder_due', title, detail };
}

/** Notifications of the same activity of one recipient on the same message belong together. */
export function tagOf({ copyId, kind }: Pick<EventView, 'copyId' | 'kind'>): string {
  return `${copyId} ${kind}`;
}

/** What the same recipient did several times within ten minutes, in words; null for what happened once. */
function burstOf({ event, before }: View): string | null {
  const alike = before.filter(({ kind }) => kind === event.kind);
  return burstText(event.kind, within(event, alike, BURST_MS).length + 1);
}

function within(event: EventView, trailEvents: readonly TrailEvent[], lengthMs: number): TrailEvent[] {
  return trailEvents.filter((mark) => event.at - mark.at < lengthMs);
}

function sinceLast(event: EventView, trailEvents: readonly TrailEvent[]): number {
  return event.at - (trailEvents.at(-1)?.at ?? -Infinity);
}
