import { rollups } from 'd3-array';
import type { EventKind, EventView } from '../contract/event.js';
import { MINUTE } from '../time/words.js';
import { wallTimeAt } from '../time/zoned.js';
import { isOf } from './kinds.js';

/** Whoever does nothing for longer has left: what they do afterwards is another sitting. The usual bound of web statistics. */
const SITTING_GAP_MS = 30 * MINUTE;

/** What one recipient did with one message without a longer pause. Never empty. */
export interface Sitting {
  /** Number of its first event. */
  id: number;
  messageId: number;
  copyId: number;
  recipient: EventView['recipient'];
  counted: boolean;
  /** The name of the rule by which none of it is counted; null where it is. */
  reason: string | null;
  /** Newest first. */
  events: EventView[];
  from: number;
  to: number;
}

/**
 * Groups activity into sittings. What is not counted stands apart, by its reason; so does each event that nobody sits at
 * a message for, like a delivery or a reply.
 *
 * @param events newest first, of any number of messages and recipients
 * @returns newest first, by the last event of each
 */
export function sittingsOf(events: readonly EventView[]): Sitting[] {
  const sittings: Sitting[] = [];
  const open = new Map<string, Sitting>();
  for (const event of events) {
    const { eventId, at, messageId, copyId, recipient, counted, reason } = event;
    const key = JSON.stringify([copyId, counted, reason]);
    const later = isOf('activity', event.kind) ? open.get(key) : undefined;
    if (later && later.from - at <= SITTING_GAP_MS) {
      later.events.push(event);
      Object.assign(later, { id: eventId, from: at });
      continue;
    }
    const sitting = { id: eventId, messageId, copyId, recipient, counted, reason, events: [event], from: at, to: at };
    sittings.push(sitting);
    if (isOf('activity', event.kind)) open.set(key, sitting);
  }
  return sittings;
}

/** One day of sittings, newest first. Never empty. */
export interface SittingsDay {
  /** Days are the same where this is: “2026-11-8”. */
  day: string;
  sittings: Sitting[];
}

/** Sittings by the day on which they ended, in the order given. `zone`: IANA name. */
export function sittingsByDay(sittings: readonly Sitting[], zone: string): SittingsDay[] {
  return rollups(
    sittings,
    (own) => own,
    ({ to }) => {
      const { year, month, day } = wallTimeAt(to, zone);
      return `${year}-${month}-${day}`;
    },
  ).map(([day, own]) => ({ day, sittings: own }));
}

/** What was read of one file in a sitting. */
export interface FileSitting {
  sentFileId: number | null;
  label: string | null;
  /** How many different pages. */
  pages: number;
  readMs: number;
  /** The page that was shown last, from 1; null where none is known. */
  lastPage: number | null;
}

/** The files of a sitting, in the order in which they were opened. */
export function filesOfSitting({ events }: Sitting): FileSitting[] {
  const kinds: readonly EventKind[] = ['file_viewed', 'page_viewed'];
  return rollups(
    events.filter(({ kind }) => kinds.includes(kind)).reverse(),
    (own): FileSitting => {
      const pages = own.flatMap(({ page }) => page ?? []);
      return {
        sentFileId: own[0]!.sentFileId,
        label: own[0]!.label,
        pages: new Set(pages).size,
        readMs: own.reduce((sum, { readMs }) => sum + (readMs ?? 0), 0),
        lastPage: pages.at(-1) ?? null,
      };
    },
    ({ sentFileId }) => sentFileId,
  ).map(([, file]) => file);
}
