import type { EventKind, EventView } from '../contract/event.js';
import { clockWords, counted, durationWords, exactWords } from '../time/words.js';
import { personText, quoted } from './words.js';

type EventLabel = Pick<EventView, 'label'> & Partial<Pick<EventView, 'page' | 'readMs'>>;

function pageText(page: number | null | undefined): string {
  return page == null ? 'a page' : `page ${page}`;
}

/** What is said of each kind of event: in a notification, and in the history. */
const EVENT_VERBS: Record<EventKind, (event: EventLabel) => string> = {
  delivered: () => 'got',
  bounced: () => 'did not get',
  opened: () => 'opened',
  clicked: ({ label }) => (label ? `clicked ${quoted(label)} in` : 'clicked a link in'),
  file_viewed: ({ label }) => (label ? `is reading ${quoted(label)} from` : 'is reading a file from'),
  page_viewed: ({ label, page }) => `is on ${pageText(page)} of ${label ? quoted(label) : 'a file'} from`,
  downloaded: ({ label }) => (label ? `downloaded ${quoted(label)} from` : 'downloaded a file from'),
  replied: () => 'replied to',
  receipt: () => 'sent a receipt for',
  opted_out: () => 'opted out of tracking after',
};

/** “Marit Oakes clicked “price list” in “Panels for the reading room””. */
export function eventSentence(event: EventView): string {
  return `${personText(event.recipient)} ${EVENT_VERBS[event.kind](event)} ${subjectText(event)}`;
}

/** The subject in quotation marks. */
export function subjectText({ subject }: Pick<EventView, 'subject'>): string {
  return quoted(subject || 'a message without subject');
}

const EVENT_TEXTS: Record<EventKind, (event: EventLabel) => string> = {
  delivered: ({ label }) => label ?? 'Delivered',
  bounced: ({ label }) => (label ? `Could not be delivered. ${label}` : 'Could not be delivered'),
  opened: () => 'Opened the message',
  clicked: ({ label }) => (label ? `Clicked ${quoted(label)}` : 'Clicked a link'),
  file_viewed: ({ label }) => (label ? `Opened ${quoted(label)}` : 'Opened a file'),
  page_viewed: ({ label, page, readMs }) =>
    `Read ${pageText(page)} of ${label ? quoted(label) : 'a file'}${readMs ? ` for ${durationWords(readMs)}` : ''}`,
  downloaded: ({ label }) => (label ? `Downloaded ${quoted(label)}` : 'Downloaded a file'),
  replied: ({ label }) => (label ? `Replied: ${quoted(label)}` : 'Replied'),
  receipt: ({ label }) => label ?? 'Receipt received',
  opted_out: () => 'Opted out of tracking',
};

/** “Opened the message”, for a line of the history. */
export function eventText(event: EventLabel & Pick<EventView, 'kind'>): string {
  return EVENT_TEXTS[event.kind](event);
}

/** “phone, Safari, iOS”: as much as is known of the reader's device; empty where nothing is. */
export function deviceText(event: Pick<EventView, 'device' | 'program' | 'system'>): string {
  return [event.device, event.program, event.system].filter(Boolean).join(', ');
}

/** A line of the last hour: “16:07 Marit Oakes opened “Panels for the reading room””. */
export function eventLine(event: EventView): string {
  return `${clockWords(event.at)} ${eventSentence(event)}${event.counted ? '' : ' (not counted)'}`;
}

/** The lines of several events that are shown as one mark. */
export function eventLinesText(count: number, lines: readonly string[]): string {
  return `${count > 1 ? `${counted(count, 'event')}: ` : ''}${lines.join('; ')}`;
}

/** How many events of the last hour are counted. */
export function lastHourText(count: number): string {
  return count === 0 ? 'nothing yet' : counted(count, 'event');
}

/** A mark of the chart, or the last of several: “3 events, the last: Opened the message, …”. */
export function markText(newest: EventLabel & Pick<EventView, 'kind' | 'at'>, count: number): string {
  const one = `${eventText(newest)}, ${exactWords(newest.at)}`;
  return count > 1 ? `${counted(count, 'event')}, the last: ${one}` : one;
}
