import { extent, group, quantileSorted, range } from 'd3-array';
import type { Outcome, ReportPeriod, ReportView, Spread, TemplateOutcome, WeekOutcome } from '../contract/report.js';
import { hourOfWeek } from '../people/hourOfWeek.js';
import { readingTimes } from '../people/readingTimes.js';
import { DAY, WEEK } from '../time/words.js';
import { compare, rateOf } from './rate.js';

/** One message that was sent, as far as a report counts it. */
export interface SentMessage {
  sentAt: number;
  templateId: number | null;
  /** Whether its opens are counted. */
  isTracked: boolean;
  hasLinks: boolean;
  hasFiles: boolean;
  /** By any sign: images may be blocked where a link is clicked. */
  wasRead: boolean;
  wasClicked: boolean;
  wasViewed: boolean;
  wasReplied: boolean;
  firstOpenAt: number | null;
  repliedAt: number | null;
}

/** Whoever reads a message at all does so mostly within this time; sooner it says nothing that it was not read. */
export const SETTLING_MS = 2 * DAY;
const PERIOD_DAYS: Record<ReportPeriod, number> = { month: 30, quarter: 91, year: 365, all: Infinity };
/** As many weeks as one chart can show apart. */
const MAX_WEEKS = 26;

/** Since when messages are looked at, in epoch milliseconds. */
export function periodStart(period: ReportPeriod, now: number): number {
  return Math.max(now - PERIOD_DAYS[period] * DAY, 0);
}

/**
 * What can be learnt from messages. Those that left within the last days are not counted: they would make every report
 * look worse than things are.
 *
 * @param messages in any order
 * @param names of templates, by their number; messages of those that are gone count among all others
 * @param now epoch milliseconds
 * @param zone IANA name of the zone of weeks and hours
 */
export function reportOf(
  messages: readonly SentMessage[],
  names: ReadonlyMap<number, string>,
  now: number,
  zone: string,
): ReportView {
  const old = messages.filter(({ sentAt }) => sentAt <= now - SETTLING_MS);
  return {
    tooRecent: messages.length - old.length,
    ...outcomeOf(old),
    opening: readingTimes(
      old.map(({ firstOpenAt }) => firstOpenAt).filter((at) => at !== null),
      zone,
    ),
    weeks: weeksOf(old, zone),
    templates: templatesOf(old, names),
  };
}

/** One loop for all that is counted: there may be very many messages. */
function outcomeOf(messages: readonly SentMessage[]): Outcome {
  let [tracked, read, linked, clicked, filed, viewed, replied] = [0, 0, 0, 0, 0, 0, 0];
  const untilOpened: number[] = [];
  const untilReplied: number[] = [];
  for (const message of messages) {
    if (message.isTracked) tracked += 1;
    if (message.isTracked && message.wasRead) read += 1;
    if (message.hasLinks) linked += 1;
    if (message.hasLinks && message.wasClicked) clicked += 1;
    if (message.hasFiles) filed += 1;
    if (message.hasFiles && message.wasViewed) viewed += 1;
    if (message.wasReplied) replied += 1;
    if (message.firstOpenAt !== null) untilOpened.push(message.firstOpenAt - message.sentAt);
    if (message.repliedAt !== null) untilReplied.push(message.repliedAt - message.sentAt);
  }
  return {
    messages: messages.length,
    read: rateOf(read, tracked),
    clicked: rateOf(clicked, linked),
    viewed: rateOf(viewed, filed),
    replied: rateOf(replied, messages.length),
    untilOpened: spreadOf(untilOpened),
    untilReplied: spreadOf(untilReplied),
  };
}

function spreadOf(lengths: number[]): Spread | null {
  if (lengths.length === 0) return null;
  // As numbers, without a comparison of our own for each pair.
  const sorted = Array.from(Float64Array.from(lengths).sort());
  // An open may be noted a moment before the sending is.
  const at = (part: number) => Math.max(quantileSorted(sorted, part)!, 0);
  return { n: sorted.length, firstQuartile: at(0.25), median: at(0.5), thirdQuartile: at(0.75) };
}

function weeksOf(messages: readonly SentMessage[], zone: string): WeekOutcome[] {
  const weeks = group(messages, ({ sentAt }) => mondayOf(sentAt, zone));
  const [first, last] = extent(weeks.keys());
  if (first === undefined || last === undefined) return [];
  return range(Math.max(first, last - (MAX_WEEKS - 1) * WEEK), last + WEEK, WEEK).map((monday) => {
    const own = weeks.get(monday) ?? [];
    return {
      monday: new Date(monday).toISOString().slice(0, 10),
      messages: own.length,
      read: own.filter(({ wasRead }) => wasRead).length,
      replied: own.filter(({ wasReplied }) => wasReplied).length,
    };
  });
}

/** Midnight of the Monday before a time, as the zone's clocks read it, taken for UTC: so no week has an hour more. */
function mondayOf(at: number, zone: string): number {
  const { weekday, localMs } = hourOfWeek(at, zone);
  return (Math.floor(localMs / DAY) - weekday) * DAY;
}

function templatesOf(messages: readonly SentMessage[], names: ReadonlyMap<number, string>): TemplateOutcome[] {
  const replied = messages.filter(({ wasReplied }) => wasReplied).length;
  const byTemplate = group(messages, ({ templateId }) => templateId);
  return [...names]
    .flatMap(([id, name]) => {
      const own = byTemplate.get(id);
      if (!own) return [];
      const outcome = outcomeOf(own);
      const others = { n: replied - outcome.replied.n, of: messages.length - own.length };
      return [{ id, name, ...outcome, comparison: compare(outcome.replied, others) }];
    })
    .sort((a, b) => b.messages - a.messages || a.name.localeCompare(b.name));
}
