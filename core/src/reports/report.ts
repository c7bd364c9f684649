import { extent, group, quantileSorted, range } from 'd3-array';
import type { Outcome, ReportPeriod, ReportView, Spread, TemplateOutcome, WeekOutcome } from '../contract/report.js';
import { hourOfWeek } from '../people/hourOfWeek.js';
import { readingTimes } from '../people/readingTimes.js';
import { DAY, durationWords, WEEK } from '../time/words.js';
import { compare, rateOf } from './rate.js';

/** One letter that was sent, as far as a report looks at it. */
export interface SentLetter {
  sentAt: number;
  templateId: number | null;
  /** Whether its opens are counted. */
  isTracked: boolean;
  hasLinks: boolean;
  hasFiles: boolean;
  wasOpened: boolean;
  wasClicked: boolean;
  wasViewed: boolean;
  wasAnswered: boolean;
  firstOpenAt: number | null;
  answeredAt: number | null;
}

/** Whoever reads a letter at all does so mostly within this time; sooner it says nothing that it was not read. */
export const FRESH_MS = 2 * DAY;
const PERIOD_DAYS: Record<ReportPeriod, number> = { month: 30, quarter: 91, year: 365, all: Infinity };
/** As many weeks as can be told apart in one picture. */
const MOST_WEEKS = 26;

/** Since when letters are looked at, in epoch milliseconds. */
export function periodStart(period: ReportPeriod, now: number): number {
  return Math.max(now - PERIOD_DAYS[period] * DAY, 0);
}

/**
 * What can be learnt from letters. Those that left within the last days are not counted: they would make every report
 * look worse than things are.
 *
 * @param letters in any order
 * @param names of templates, by their number; letters of those that are gone count among all others
 * @param now epoch milliseconds
 * @param zone IANA name of the zone in which weeks and hours are told
 */
export function reportOf(
  letters: readonly SentLetter[],
  names: ReadonlyMap<number, string>,
  now: number,
  zone: string,
): ReportView {
  const told = letters.filter(({ sentAt }) => sentAt <= now - FRESH_MS);
  return {
    tooFresh: letters.length - told.length,
    ...outcomeOf(told),
    opening: readingTimes(
      told.map(({ firstOpenAt }) => firstOpenAt).filter((at) => at !== null),
      zone,
    ),
    weeks: weeksOf(told, zone),
    templates: templatesOf(told, names),
  };
}

/** One loop for all that is counted: there may be very many letters. */
function outcomeOf(letters: readonly SentLetter[]): Outcome {
  let [tracked, read, linked, clicked, filed, viewed, answered] = [0, 0, 0, 0, 0, 0, 0];
  const untilOpened: number[] = [];
  const untilAnswered: number[] = [];
  for (const letter of letters) {
    if (letter.isTracked) tracked += 1;
    if (letter.isTracked && isRead(letter)) read += 1;
    if (letter.hasLinks) linked += 1;
    if (letter.hasLinks && letter.wasClicked) clicked += 1;
    if (letter.hasFiles) filed += 1;
    if (letter.hasFiles && letter.wasViewed) viewed += 1;
    if (letter.wasAnswered) answered += 1;
    if (letter.firstOpenAt !== null) untilOpened.push(letter.firstOpenAt - letter.sentAt);
    if (letter.answeredAt !== null) untilAnswered.push(letter.answeredAt - letter.sentAt);
  }
  return {
    letters: letters.length,
    read: rateOf(read, tracked),
    clicked: rateOf(clicked, linked),
    viewed: rateOf(viewed, filed),
    answered: rateOf(answered, letters.length),
    untilOpened: spreadOf(untilOpened),
    untilAnswered: spreadOf(untilAnswered),
  };
}

/** Any sign proves it: images may be blocked where a link is followed. */
function isRead({ wasOpened, wasClicked, wasViewed, wasAnswered }: SentLetter): boolean {
  return wasOpened || wasClicked || wasViewed || wasAnswered;
}

function spreadOf(lengths: number[]): Spread | null {
  if (lengths.length === 0) return null;
  // As numbers, without a comparison of our own for each pair.
  const sorted = Array.from(Float64Array.from(lengths).sort());
  // An open may be noted a moment before the sending is.
  const at = (part: number) => Math.max(quantileSorted(sorted, part)!, 0);
  return { n: sorted.length, firstQuartile: at(0.25), median: at(0.5), thirdQuartile: at(0.75) };
}

/** Half within a time, a quarter sooner, a quarter later, in a sentence. */
export function spreadWords({ firstQuartile, median, thirdQuartile }: Spread): string {
  return `Half within ${words(median)}; a quarter within ${words(firstQuartile)}, three quarters within ${words(thirdQuartile)}.`;
}

function words(lengthMs: number): string {
  return durationWords(Math.max(lengthMs, 1));
}

function weeksOf(letters: readonly SentLetter[], zone: string): WeekOutcome[] {
  const weeks = group(letters, ({ sentAt }) => mondayOf(sentAt, zone));
  const [first, last] = extent(weeks.keys());
  if (first === undefined || last === undefined) return [];
  return range(Math.max(first, last - (MOST_WEEKS - 1) * WEEK), last + WEEK, WEEK).map((monday) => {
    const own = weeks.get(monday) ?? [];
    return {
      monday: new Date(monday).toISOString().slice(0, 10),
      letters: own.length,
      read: own.filter(isRead).length,
      answered: own.filter(({ wasAnswered }) => wasAnswered).length,
    };
  });
}

/** Midnight of the Monday before a time, as the zone's clocks read it, taken for UTC: so no week has an hour more. */
function mondayOf(at: number, zone: string): number {
  const { weekday, localMs } = hourOfWeek(at, zone);
  return (Math.floor(localMs / DAY) - weekday) * DAY;
}

function templatesOf(letters: readonly SentLetter[], names: ReadonlyMap<number, string>): TemplateOutcome[] {
  const answered = letters.filter(({ wasAnswered }) => wasAnswered).length;
  const byTemplate = group(letters, ({ templateId }) => templateId);
  return [...names]
    .flatMap(([id, name]) => {
      const own = byTemplate.get(id);
      if (!own) return [];
      const outcome = outcomeOf(own);
      const others = { n: answered - outcome.answered.n, of: letters.length - own.length };
      return [{ id, name, ...outcome, comparison: compare(outcome.answered, others) }];
    })
    .sort((a, b) => b.letters - a.letters || a.name.localeCompare(b.name));
}
