import { casual, type ParsedComponents } from 'chrono-node';
import { DateTime } from 'luxon';
import { DAY, MINUTE } from '../time/words.js';
import { momentOf } from '../time/zoned.js';

/** The hour of a day that was named without one. */
const MORNING = 9;
const FARTHEST_DAYS = 366;
const MAX_WHEN_CHARS = 100;
const PART_OF_DAY = /\b(noon|midday|afternoon|evening|tonight|night)\b/i;
/** “Thu 9”. */
const BARE_HOUR = /\b((?:mon|tue|wed|thu|fri|sat|sun)[a-z]*)\s+(\d{1,2})$/i;

/**
 * Reads a time as people type it: “in 2 days”, “Thursday 9:00”, “next Monday”, “14 December at 10”. A day without a time
 * means its morning; a weekday is the next one, and a time of day that is past is tomorrow’s.
 *
 * @param now epoch milliseconds
 * @param zone by whose clocks (IANA)
 * @returns epoch milliseconds; or what is wrong, in words
 */
export function readWhen(words: string, now: number, zone: string): { at: number } | { problem: string } {
  const text = words.trim().replace(BARE_HOUR, '$1 at $2');
  if (text === '' || text.length > MAX_WHEN_CHARS) return { problem: HOW };
  const timezone = DateTime.fromMillis(now, { zone }).offset;
  const [found, ...more] = casual.parse(text, { instant: new Date(now), timezone }, { forwardDate: true });
  if (!found || more.length > 0 || found.end) return { problem: `“${text}” is not a time. ${HOW}` };
  // What is left over may change what was meant.
  const rest = text.replace(found.text, '').replace(/\b(at|on|the|remind me)\b/gi, '');
  if (/[\p{L}\p{N}]/u.test(rest)) return { problem: `“${rest.trim()}” is not understood here. ${HOW}` };
  const at = momentOfParts(found.start, found.text, zone);
  if (at < now + MINUTE) return { problem: 'This time is past. Choose one that is still to come.' };
  if (at > now + FARTHEST_DAYS * DAY) return { problem: 'Choose a time within a year.' };
  return { at };
}

const HOW = 'Write it like “in 2 days”, “Thursday 9:00” or “next Monday”.';

function momentOfParts(parts: ParsedComponents, said: string, zone: string): number {
  // “in 3 hours” is a length of time, whatever the clocks do meanwhile.
  if (parts.tags().has('result/relativeDateAndTime')) return parts.date().getTime();
  const [year, month, day] = [parts.get('year')!, parts.get('month')!, parts.get('day')!];
  const timed = parts.isCertain('hour') || PART_OF_DAY.test(said);
  const [hour, minute] = timed ? [parts.get('hour')!, parts.get('minute') ?? 0] : [MORNING, 0];
  return momentOf({ year, month, day, hour, minute }, zone);
}
