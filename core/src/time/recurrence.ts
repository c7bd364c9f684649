import { DateTime } from 'luxon';
import * as library from 'rrule';
import type { Recurrence } from '../contract/message.js';
import { DAY } from './words.js';

/** Node reads the library as CommonJS, a bundler as an ES module. */
const { RRule, rrulestr } = (Reflect.get(library, 'default') as typeof library | undefined) ?? library;

/** More often than daily is not correspondence. */
const FREQUENCIES = new Set([RRule.DAILY, RRule.WEEKLY, RRule.MONTHLY, RRule.YEARLY]);
const RULE_LENGTH = 300;
/** No rule that comes less often than this is looked for. */
const FARTHEST_MS = 20 * 366 * DAY;

/** Says what is wrong with a rule (RFC 5545, section 3.3.10), or null. */
export function recurrenceProblem({ rule, zone }: Recurrence): string | null {
  if (!DateTime.local({ zone }).isValid) return `“${zone}” is not a time zone.`;
  if (rule.length > RULE_LENGTH || !/^FREQ=|;FREQ=/.test(rule) || /[\r\n]|DTSTART|EXDATE|RDATE/i.test(rule))
    return 'This is not a rule for repeating.';
  try {
    const { options } = rrulestr(`RRULE:${rule}`);
    return FREQUENCIES.has(options.freq) ? null : 'A message can repeat daily at most.';
  } catch {
    return 'This is not a rule for repeating.';
  }
}

/**
 * When a message that left at a time leaves next, by the clocks of its zone: the hour stays the same over changes of
 * daylight saving. The rule that goes on from there has one repetition less, where it has a number of them.
 *
 * @param from epoch milliseconds; the rule's DTSTART
 */
export function nextOccurrence(
  { rule, zone }: Recurrence,
  from: number,
): { at: number; recurrence: Recurrence } | null {
  const start = DateTime.fromMillis(from, { zone });
  const options = rrulestr(`RRULE:${rule}`).origOptions;
  if (options.count === 1) return null;
  // The library counts in UTC: what it is given, and gives back, are the readings of the zone's clocks.
  const dtstart = start.setZone('utc', { keepLocalTime: true }).toJSDate();
  const until = options.until && DateTime.fromJSDate(options.until, { zone });
  const { count, ...endless } = options;
  const next = new RRule({ ...endless, until: null, dtstart }).after(dtstart);
  if (!next || next.getTime() - dtstart.getTime() > FARTHEST_MS) return null;
  const at = DateTime.fromJSDate(next, { zone: 'utc' }).setZone(zone, { keepLocalTime: true });
  if (until && at > until) return null;
  const left = count ? { ...options, count: count - 1 } : options;
  return { at: at.toMillis(), recurrence: { rule: RRule.optionsToString(left).replace(/^RRULE:/, ''), zone } };
}

/** The next times a message leaves, the first one included. */
export function occurrences(recurrence: Recurrence, from: number, most: number): number[] {
  const times = [from];
  let rest = recurrence;
  while (times.length < most) {
    const next = nextOccurrence(rest, times.at(-1)!);
    if (!next) break;
    times.push(next.at);
    rest = next.recurrence;
  }
  return times;
}
