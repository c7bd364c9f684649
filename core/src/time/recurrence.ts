import { DateTime } from 'luxon';
import * as library from 'rrule';
import type { Recurrence } from '../contract/message.js';
import { DAY } from './words.js';

/** Node reads the library as CommonJS, a bundler as an ES module. */
const { RRule, rrulestr } = (Reflect.get(library, 'default') as typeof library | undefined) ?? library;

const MAX_RULE_CHARS = 300;
/** No occurrence that lies farther away than this is looked for. */
const MAX_AHEAD_MS = 20 * 366 * DAY;

const WEEKDAY = '(?:MO|TU|WE|TH|FR|SA|SU)';
const FREQUENCY: Part = ['FREQ', /^(?:DAILY|WEEKLY|MONTHLY|YEARLY)$/];
/** A part of a rule with the values it may have. */
type Part = [name: string, value: RegExp];
/** What every rule may have. Without a positive interval the library never comes to its end. */
const COMMON: readonly Part[] = [
  FREQUENCY,
  ['INTERVAL', /^[1-9]\d{0,2}$/],
  ['COUNT', /^[1-9]\d{0,3}$/],
  ['UNTIL', /^\d{8}(?:T\d{6}Z?)?$/],
];
/** What rules of each frequency may have besides: no more than can be chosen, so that each comes again within some steps. */
const BY_FREQUENCY: Record<string, readonly Part[]> = {
  DAILY: [],
  WEEKLY: [['BYDAY', new RegExp(`^${WEEKDAY}(?:,${WEEKDAY}){0,6}$`)]],
  MONTHLY: [
    ['BYMONTHDAY', /^(?:[1-9]|[12]\d|3[01])$/],
    ['BYDAY', new RegExp(`^(?:\\+?[1-5]|-1)${WEEKDAY}$`)],
  ],
  YEARLY: [],
};

const NO_RULE = 'This is not a rule for repeating.';

/** When a rule for repeating ends: after so many times, at a moment in epoch milliseconds, or never. */
export type RecurrenceEnd = { count: number } | { untilAt: number } | null;

/**
 * A rule with an end.
 *
 * @example endingRule('FREQ=DAILY', { count: 3 }) // FREQ=DAILY;COUNT=3
 */
export function endingRule(rule: string, end: RecurrenceEnd): string {
  if (end === null) return rule;
  if ('count' in end) return `${rule};COUNT=${end.count}`;
  return `${rule};UNTIL=${DateTime.fromMillis(end.untilAt, { zone: 'utc' }).toFormat("yyyyMMdd'T'HHmmss'Z'")}`;
}

/**
 * Says what is wrong with a rule (RFC 5545, section 3.3.10), or null. Taken are the rules that the page offers.
 *
 * @example recurrenceProblem({ rule: 'FREQ=DAILY;INTERVAL=-1', zone: 'UTC' })
 * // 'INTERVAL=-1 cannot be used in a rule for repeating.'
 */
export function recurrenceProblem({ rule, zone }: Recurrence): string | null {
  if (!DateTime.local({ zone }).isValid) return `“${zone}” is not a time zone.`;
  if (rule.length > MAX_RULE_CHARS) return NO_RULE;
  const parts = rule.split(';').map((part) => part.split('='));
  const names = parts.map(([name]) => name);
  const frequency = parts.find(([name]) => name === 'FREQ')?.[1] ?? '';
  const own = BY_FREQUENCY[frequency];
  if (!own) return frequency === '' ? NO_RULE : 'A message can repeat daily at most.';
  if (new Set(names).size < names.length || (names.includes('BYMONTHDAY') && names.includes('BYDAY'))) return NO_RULE;
  const allowed = new Map([...COMMON, ...own]);
  const wrong = parts.find(([name = '', value = '', ...more]) => more.length > 0 || !allowed.get(name)?.test(value));
  return wrong ? `${wrong.join('=')} cannot be used in a rule for repeating.` : null;
}

/**
 * When a message that left at a time leaves next, by the clocks of its zone: the hour stays the same over changes of
 * daylight saving. The rule that goes on from there has one repetition less, where it has a number of them.
 *
 * @param from epoch milliseconds; the rule's DTSTART
 * @returns null where it does not leave again, and for a rule that cannot be used
 */
export function nextOccurrence(recurrence: Recurrence, from: number): { at: number; recurrence: Recurrence } | null {
  if (recurrenceProblem(recurrence) !== null) return null;
  const { rule, zone } = recurrence;
  const start = DateTime.fromMillis(from, { zone });
  const options = rrulestr(`RRULE:${rule}`).origOptions;
  if (options.count === 1) return null;
  // The library counts in UTC: what it is given, and gives back, are the readings of the zone's clocks.
  const dtstart = start.setZone('utc', { keepLocalTime: true }).toJSDate();
  const until = options.until && DateTime.fromJSDate(options.until, { zone });
  const { count, ...endless } = options;
  const next = new RRule({ ...endless, until: null, dtstart }).after(dtstart);
  if (!next || next.getTime() - dtstart.getTime() > MAX_AHEAD_MS) return null;
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
