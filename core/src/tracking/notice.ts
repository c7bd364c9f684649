import type { EventKind, EventView } from '../contract/event.js';
import { durationWords } from '../time/words.js';

type Said = Pick<EventView, 'label'> & Partial<Pick<EventView, 'page' | 'readMs'>>;

function pageWords(page: number | null | undefined): string {
  return page == null ? 'a page' : `page ${page}`;
}

/** What is said of each kind of event: in a notice, and in the history. */
const SAYINGS: Record<EventKind, (event: Said) => string> = {
  delivered: () => 'got',
  bounced: () => 'could not be reached with',
  opened: () => 'opened',
  clicked: ({ label }) => (label ? `followed “${label}” in` : 'followed a link in'),
  file_viewed: ({ label }) => (label ? `is reading “${label}” from` : 'is reading a file from'),
  page_viewed: ({ label, page }) => `is on ${pageWords(page)} of ${label ? `“${label}”` : 'a file'} from`,
  downloaded: ({ label }) => (label ? `downloaded “${label}” from` : 'downloaded a file from'),
  answered: () => 'answered',
  receipt: () => 'sent a receipt for',
  opted_out: () => 'asked not to be tracked after',
};

/** “Marit Oakes followed “price list” in “Panels for the reading room””. */
export function noticeWords(event: EventView): string {
  return `${personWords(event.recipient)} ${SAYINGS[event.kind](event)} ${subjectWords(event)}`;
}

/** The subject in quotation marks. */
export function subjectWords({ subject }: Pick<EventView, 'subject'>): string {
  return `“${subject || 'a message without subject'}”`;
}

const HAPPENINGS: Record<EventKind, (event: Said) => string> = {
  delivered: ({ label }) => label ?? 'Delivered',
  bounced: ({ label }) => (label ? `Could not be delivered. ${label}` : 'Could not be delivered'),
  opened: () => 'Opened the message',
  clicked: ({ label }) => (label ? `Followed “${label}”` : 'Followed a link'),
  file_viewed: ({ label }) => (label ? `Opened “${label}”` : 'Opened a file'),
  page_viewed: ({ label, page, readMs }) =>
    `Read ${pageWords(page)} of ${label ? `“${label}”` : 'a file'}${readMs ? ` for ${durationWords(readMs)}` : ''}`,
  downloaded: ({ label }) => (label ? `Downloaded “${label}”` : 'Downloaded a file'),
  answered: ({ label }) => (label ? `Answered: “${label}”` : 'Answered'),
  receipt: ({ label }) => label ?? 'Receipt came back',
  opted_out: () => 'Asked not to be tracked',
};

/** “Opened the message”, for a line of the history. */
export function happeningWords(event: Said & Pick<EventView, 'kind'>): string {
  return HAPPENINGS[event.kind](event);
}

/** “phone, Safari, iOS”: as much as is known of the reader's device; empty where nothing is. */
export function deviceWords(event: Pick<EventView, 'device' | 'program' | 'system'>): string {
  return [event.device, event.program, event.system].filter(Boolean).join(', ');
}

export function personWords(mailbox: { name: string; address: string }): string {
  return mailbox.name || mailbox.address;
}
