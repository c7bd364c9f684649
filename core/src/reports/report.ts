import { extent, range } from 'd3-array';
import type { Outcome, ReportView, TemplateOutcome, WeekOutcome } from '../contract/report.js';
import { ReadingTimesCounter } from '../people/readingTimes.js';
import { hourOfWeek } from '../time/hourOfWeek.js';
import { DAY, WEEK } from '../time/words.js';
import type { Stretch } from '../time/period.js';
import { FACTS } from './facts.js';
import { changesOf, OutcomeCounter, RateCounter } from './outcome.js';
import { periodBefore, reportPeriod } from './period.js';
import { compare } from './rate.js';

/** As many weeks as one chart can show apart. */
const MAX_WEEKS = 26;

type Week = Omit<WeekOutcome, 'monday'>;

/** Takes one message: the sum of FACTS that are true of it; times in epoch milliseconds. */
export type Counting = (
  facts: number,
  sentAt: number,
  templateId: number | null,
  firstOpenAt: number | null,
  repliedAt: number | null,
) => void;

/**
 * Makes a report with one walk through the messages: those of its period, those just before, and those too recent.
 *
 * @param asked the time that is asked for
 * @param zone IANA name of the zone of days, weeks and hours
 * @param names of templates, by their number; messages of those that are gone count among all others
 * @param each gives every message that was sent from a time on and, as asked, before another, in any order
 */
export function reportOf(
  asked: Stretch,
  now: number,
  zone: string,
  names: ReadonlyMap<number, string>,
  each: (from: number | null, counting: Counting) => void,
): ReportView {
  const { from, to } = reportPeriod(asked, now, zone);
  const before = periodBefore({ from, to }, zone);
  const counter = new ReportCounter(zone);
  const earlier = new OutcomeCounter();
  let tooRecent = 0;
  each(before?.from ?? from, (facts, sentAt, templateId, firstOpenAt, repliedAt) => {
    if (from !== null && sentAt < from) earlier.add(facts, sentAt, firstOpenAt, repliedAt);
    else if (sentAt < to) counter.add(facts, sentAt, templateId, firstOpenAt, repliedAt);
    else tooRecent += 1;
  });
  const view = counter.view(names);
  const outcome = earlier.view();
  return {
    ...view,
    from,
    to,
    tooRecent,
    before: before && { ...before, ...outcome, changes: changesOf(view, outcome) },
  };
}

/**
 * Counts messages for a report, one after the other: of very many, only what is counted is kept.
 *
 * @example
 * const counter = new ReportCounter('Europe/Helsinki');
 * counter.add(FACTS.isTracked | FACTS.wasRead, sentAt, null, firstOpenAt, null);
 * counter.view(new Map());
 */
export class ReportCounter {
  private readonly outcome = new OutcomeCounter();
  private readonly opening: ReadingTimesCounter;
  private readonly weeks = new Map<number, Week>();
  private readonly templates = new Map<number, RateCounter>();

  /** @param zone IANA name of the zone of weeks and hours */
  constructor(private readonly zone: string) {
    this.opening = new ReadingTimesCounter(zone);
  }

  /** @param facts the sum of FACTS that are true of the message; times in epoch milliseconds */
  add(
    facts: number,
    sentAt: number,
    templateId: number | null,
    firstOpenAt: number | null,
    repliedAt: number | null,
  ): void {
    this.outcome.add(facts, sentAt, firstOpenAt, repliedAt);
    if (firstOpenAt !== null) this.opening.add(firstOpenAt);
    const week = entryOf(this.weeks, mondayOf(sentAt, this.zone), () => ({ messages: 0, read: 0, replied: 0 }));
    week.messages += 1;
    if (facts & FACTS.wasRead) week.read += 1;
    if (facts & FACTS.wasReplied) week.replied += 1;
    if (templateId !== null) entryOf(this.templates, templateId, () => new RateCounter()).add(facts);
  }

  /** @param names of templates, by their number; messages of those that are gone count among all others */
  view(names: ReadonlyMap<number, string>): Outcome & Pick<ReportView, 'opening' | 'weeks' | 'templates'> {
    const outcome = this.outcome.view();
    return {
      ...outcome,
      opening: this.opening.view(),
      weeks: weeksOf(this.weeks),
      templates: [...this.templates]
        .flatMap(([id, rates]) => {
          const name = names.get(id);
          return name === undefined ? [] : [templateOf(id, name, rates, outcome)];
        })
        .sort((a, b) => b.messages - a.messages || a.name.localeCompare(b.name)),
    };
  }
}

/** Without gaps, and no more than can be shown. */
function weeksOf(weeks: ReadonlyMap<number, Week>): WeekOutcome[] {
  const [first, last] = extent(weeks.keys());
  if (first === undefined || last === undefined) return [];
  return range(Math.max(first, last - (MAX_WEEKS - 1) * WEEK), last + WEEK, WEEK).map((monday) => ({
    monday: new Date(monday).toISOString().slice(0, 10),
    ...(weeks.get(monday) ?? { messages: 0, read: 0, replied: 0 }),
  }));
}

/** Midnight of the Monday before a time, as the zone's clocks read it, taken for UTC: so no week has an hour more. */
function mondayOf(at: number, zone: string): number {
  const { weekday, localMs } = hourOfWeek(at, zone);
  return (Math.floor(localMs / DAY) - weekday) * DAY;
}

function templateOf(id: number, name: string, rates: RateCounter, all: Outcome): TemplateOutcome {
  const { messages } = rates;
  const evidence = rates.evidence();
  const { replied } = evidence;
  const others = { n: all.replied.n - replied.n, of: all.messages - messages };
  return { id, name, messages, ...evidence, comparison: compare(replied, others) };
}

function entryOf<K, V>(map: Map<K, V>, key: K, make: () => V): V {
  let entry = map.get(key);
  if (entry === undefined) map.set(key, (entry = make()));
  return entry;
}
