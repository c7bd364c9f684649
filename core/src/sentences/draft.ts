import type { Mailbox } from '../contract/index.js';
import { appointmentWords, clockWords, MINUTE } from '../time/words.js';
import { namesText, personText, quoted } from './words.js';

/** More recipients than these are said by their number. */
const MAX_NAMES_SAID = 3;
/** Longer than any time in which a message can be recalled while it leaves. */
const LONG_WAIT_MS = 2 * MINUTE;

/**
 * Who gets which copy of a message that is being written.
 *
 * @param isTracked whether anything in it is tracked
 * @example copiesSentence([marit, jun], true) // Marit, Jun each get their own copy, so you know who did what.
 */
export function copiesSentence(recipients: readonly Mailbox[], isTracked: boolean): string {
  if (!isTracked) return 'It is sent without tracking image or links.';
  const names = recipients.map(firstName);
  if (names.length === 0) return 'Add a recipient.';
  if (names.length === 1) return `${names[0]} gets a copy with its own image and links.`;
  return `${namesText(names, MAX_NAMES_SAID)} each get their own copy, so you know who did what.`;
}

/** Who of the recipients opted out, or was set so; at least one. */
export function untrackedSentence(people: readonly Mailbox[]): string {
  const verb = people.length === 1 ? 'gets' : 'get';
  return `${people.map(personText).join(', ')} ${verb} it without tracking, at their request.`;
}

function firstName({ name, address }: Mailbox): string {
  return personText({ name: name.trim().split(/\s+/)[0]!, address });
}

/** What is pressed to send: each recipient gets a copy. */
export function sendText(recipients: number): string {
  return recipients > 1 ? 'Send together' : 'Send';
}

/** That a message leaves, or when it will: “Sending 3 copies”, “Scheduled for Mon 30 Nov, 09:00”. */
export function leavingText(recipients: number, sendAt: number | null, now: number): string {
  if (sendAt !== null && sendAt - now > LONG_WAIT_MS) return `Scheduled for ${appointmentWords(sendAt)}`;
  return recipients === 1 ? 'Sending' : `Sending ${recipients} copies`;
}

/** What another program has shared, to be attached; at least one. */
export function sharedFilesText(names: readonly string[]): string {
  return `Shared by another app: ${namesText(names.map(quoted), MAX_NAMES_SAID)}.`;
}

/** “Saved 16:07”. */
export function savedText(at: number): string {
  return `Saved ${clockWords(at)}`;
}
