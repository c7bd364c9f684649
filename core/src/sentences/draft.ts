import type { Mailbox } from '../contract/index.js';
import { personText } from './words.js';

/** More recipients than these are said by their number. */
const MAX_NAMES_SAID = 3;

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
  const more = names.length - MAX_NAMES_SAID;
  const list = names.slice(0, MAX_NAMES_SAID).join(', ') + (more > 0 ? ` and ${more} more` : '');
  return `${list} each get their own copy, so you know who did what.`;
}

/** Who of the recipients opted out, or was set so; at least one. */
export function untrackedSentence(people: readonly Mailbox[]): string {
  const verb = people.length === 1 ? 'gets' : 'get';
  return `${people.map(personText).join(', ')} ${verb} it without tracking, at their request.`;
}

function firstName({ name, address }: Mailbox): string {
  return personText({ name: name.trim().split(/\s+/)[0]!, address });
}
