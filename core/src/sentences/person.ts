import { median } from 'd3-array';
import type {
  Confidence,
  ImportAction,
  ImportReport,
  MessageSummary,
  PeopleOrder,
  PeopleShown,
  PersonReading,
  PersonRow,
  ReadingTimes,
} from '../contract/index.js';
import { capital, counted, dateWords, durationWords, hourWords, whenWords } from '../time/words.js';
import { countsText } from './copy.js';
import { deviceText } from './event.js';
import { joined, quoted, times as timesText } from './words.js';

/** From Monday (0). */
export const WEEKDAY_NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

/**
 * How often and how soon somebody replies, and how long the last message has had no reply. Empty where none was sent.
 *
 * @param messages sent to them, in any order
 * @param now epoch milliseconds
 * @example replyRateSentence(messages, now) // Replied to 3 of 4 messages, half of them within 3 hours.
 */
export function replyRateSentence(messages: readonly MessageSummary[], now: number): string {
  const sent = messages.filter(({ sentAt }) => sentAt !== null).sort((a, b) => b.sentAt! - a.sentAt!);
  const [last] = sent;
  if (!last) return '';
  const lengths = sent.flatMap(({ sentAt, tally }) => (tally.repliedAt === null ? [] : [tally.repliedAt - sentAt!]));
  const usual = median(lengths);
  const half = lengths.length > 1 ? 'half of them ' : '';
  const how = usual === undefined ? '' : `, ${half}within ${durationWords(Math.max(usual, 1))}`;
  const replied = `Replied to ${lengths.length} of ${counted(sent.length, 'message')}${how}.`;
  return last.tally.repliedAt === null
    ? `${replied} The last one has had no reply for ${durationWords(now - last.sentAt!)}.`
    : replied;
}

/** What somebody did over all their messages: “2 opens, 1 reply, last 4 minutes ago”. Empty where nothing is known. */
export function personActivityText(person: PersonRow, now: number): string {
  const { doNotTrack, lastEventAt } = person;
  if (lastEventAt === null) return doNotTrack ? 'Not tracked' : '';
  const counts = countsText(person);
  const last = `last ${counts === '' ? 'activity ' : ''}${whenWords(lastEventAt, now)}`;
  return capital(joined([counts, last], ', ')) + (doNotTrack ? '; not tracked now' : '');
}

/** How sure one can be of somebody’s reading hours. */
export function confidenceSentence({ confidence, total, days }: ReadingTimes): string {
  const basis = `Based on ${openedOrClicked(total)} on ${counted(days, 'day')}`;
  const sentences: Record<Confidence, string> = {
    nothing: 'Nothing read yet.',
    'too-few': `${basis}: too few to show a habit.`,
    'a-hint': `${basis}: only a hint.`,
    fairly: `${basis}: fairly sure.`,
  };
  return sentences[confidence];
}

/** “1 open or click”, “12 opens and clicks”. */
export function openedOrClicked(count: number): string {
  return counted(count, 'open or click', 'opens and clicks');
}

/** “Tuesday around 10:00”. Weekdays count from Monday (0). */
export function hourText({ weekday, hour }: { weekday: number; hour: number }): string {
  return `${WEEKDAY_NAMES[weekday]} around ${hourWords(hour)}`;
}

/** When somebody reads mostly, where that is known, and how sure one can be. */
export function readingTimesSentence(times: ReadingTimes): string {
  return joined([busiestSentence(times), confidenceSentence(times)]);
}

/** When somebody reads mostly. Empty where no habit shows. */
export function busiestSentence({ busiest }: ReadingTimes): string {
  return busiest ? `Mostly on ${hourText(busiest)}.` : '';
}

/** With what somebody reads: “Devices: phone, Safari, iOS (12 times).” */
export function devicesSentence(devices: PersonReading['devices']): string {
  const named = devices.map((device) => `${deviceText(device)} (${counted(device.opens, 'time')})`);
  return named.length === 0 ? 'No devices known yet.' : `Devices: ${named.join('; ')}.`;
}

/** By which time zone somebody’s hours are shown; the user’s own where theirs is not known. */
export function zoneSentence(zone: string, isTheirs: boolean): string {
  return `Time zone: ${zone}${isTheirs ? '' : ', which is yours: set theirs below'}.`;
}

/** How often was read in one hour of the week: “Tuesday around 10:00: read 3 times”. */
export function hourSumText(weekday: number, hour: number, count: number): string {
  return `${hourText({ weekday, hour })}: ${timesText('read', count)}`;
}

/** How many messages and events there are of somebody, when they were last in touch with, and what is next. */
export function personSentences(person: PersonReading, now: number): string {
  const size = `${counted(person.messagesTotal, 'message')}, ${counted(person.eventsTotal, 'event')}`;
  const parts = [size, contactText(person, now), nextReminderText(person, now)];
  return joined(
    parts.map((part) => part && `${part}.`),
    ' ',
  );
}

/** Whom the list of people shows, as the noun of its sentence. */
export const PEOPLE_SHOWN_TEXTS: Record<PeopleShown, string> = {
  all: 'everybody',
  replied: 'people who replied',
  'not-replied': 'people who never replied',
  'not-written': 'people you have not written to',
  reminder: 'people with a reminder',
  muted: 'muted people',
  'not-tracked': 'people who are not tracked',
};

/** What the list of people is sorted by, as its sentence says it. */
export const PEOPLE_ORDER_TEXTS: Record<PeopleOrder, string> = {
  name: 'name',
  lastContact: 'last contact, newest first',
  longestSilence: 'last contact, longest ago first',
  messages: 'messages, most first',
  company: 'company',
};

/** What the list of people says of tags: that of the filter, where there is one. */
export function tagText(tag: string): string {
  return tag === '' ? 'any tag' : `the tag ${quoted(tag)}`;
}

/** When somebody was last in touch with: “Last contact 3 weeks ago”. Empty where they never were. */
export function contactText({ lastContactAt }: Pick<PersonRow, 'lastContactAt'>, now: number): string {
  return lastContactAt === null ? '' : `Last contact ${whenWords(lastContactAt, now)}`;
}

/** The next reminder about somebody: “Reminder on 3 Dec”. Empty where there is none. */
export function nextReminderText({ nextReminderAt }: Pick<PersonRow, 'nextReminderAt'>, now: number): string {
  if (nextReminderAt === null) return '';
  return nextReminderAt <= now ? 'Reminder due' : `Reminder on ${dateWords(nextReminderAt, now)}`;
}

/** How many names are those of several people; at least one. */
export function duplicatesSentence(names: number): string {
  return `${counted(names, 'name is', 'names are')} listed more than once.`;
}

/** What becomes of a row of an import. */
export const IMPORT_TEXTS: Record<ImportAction, string> = {
  new: 'new',
  change: 'changed',
  same: 'already known',
  refused: 'skipped',
};

/** “Imported: 3 new, 1 changed.” */
export function importSentence({ counts, applied }: Pick<ImportReport, 'counts' | 'applied'>): string {
  const parts = Object.entries(IMPORT_TEXTS).map(
    ([action, text]) => counts[action as ImportAction] > 0 && `${counts[action as ImportAction]} ${text}`,
  );
  const all = joined(parts, ', ');
  if (all === '') return 'There is nobody in this file.';
  return `${applied ? 'Imported' : 'To import'}: ${all}.`;
}

/** That somebody was snoozed. `until` is “until tomorrow morning”. */
export function snoozedText(who: string, until: string): string {
  return `${who} is hidden ${until}`;
}

/** That somebody was marked as done. */
export function markedDoneText(who: string): string {
  return `${who} is done until they do something new`;
}
