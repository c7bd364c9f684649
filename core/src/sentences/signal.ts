import type { TrailEvent } from '../contract/event.js';
import type { PassedOn } from '../contract/message.js';
import { capital, counted, durationWords } from '../time/words.js';
import { quoted, times } from './words.js';

/** Something is read or clicked this moment. */
export function busyText({ kind, label, page }: TrailEvent): string {
  if (kind === 'page_viewed' && label && page) return `Is on page ${page} of ${quoted(label)}`;
  return kind === 'file_viewed' && label ? `Is reading ${quoted(label)}` : 'Reading it right now';
}

/** “Opened 4 times within an hour”. */
export function heatingUpText(opens: number): string {
  return `${capital(times('opened', opens))} within an hour`;
}

/** “Came back after 3 weeks without activity”. */
export function comebackText(sinceMs: number): string {
  return `Came back after ${durationWords(sinceMs)} without activity`;
}

/** “Clicked “price list”, and no reply since”. `what` stands where no name is known. */
export function noReplySinceText(verb: string, label: string | null, what: string): string {
  return `${capital(verb)} ${label ? quoted(label) : what}, and no reply since`;
}

/** What the reasons weigh together. */
export function pointsText(score: number): string {
  return counted(score, 'point');
}

/** “Likely passed on: another phone, in Norway”. */
export function passedOnText({ certainty, reason }: PassedOn): string {
  return `${capital(certainty)} passed on: ${reason}`;
}

/** “Opened twice, and no reply for 5 days”. `silentMs`: null while it is too early to say for how long. */
export function openedText(opens: number, silentMs: number | null): string {
  const since = silentMs === null ? 'no reply yet' : `no reply for ${durationWords(silentMs)}`;
  return `${capital(times('opened', opens))}, and ${since}`;
}
