import { median } from 'd3-array';
import type { MessageSummary, PersonRow } from '../contract/index.js';
import type { Confidence, ReadingTimes } from '../people/readingTimes.js';
import { capital, counted, durationWords, hourWords, whenWords } from '../time/words.js';
import { countsText } from './copy.js';
import { joined } from './words.js';

const WEEKDAY_NAMES = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

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
