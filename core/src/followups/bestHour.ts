import type { BestHour } from '../contract/index.js';
import { hourOfWeek } from '../people/hourOfWeek.js';
import { hourWords } from '../people/readingTimes.js';
import { counted, HOUR } from '../time/words.js';

const DAYS = 7;
const HOURS = 24;
const CELLS = DAYS * HOURS;

/** Looks of one person, of their firm’s others, and of everybody, in epoch milliseconds. */
export interface LooksOf {
  own: readonly number[];
  firm: readonly number[];
  all: readonly number[];
}

/**
 * How many looks of their own outweigh what is known of others: the concentration of the Dirichlet prior at each level.
 * With as many looks of one’s own, half of the estimate is one’s own.
 */
const CONCENTRATION = { all: 40, firm: 20, own: 15 };
/** Who reads at ten may read at eleven. */
const NEIGHBOUR = 0.5;

/**
 * At which hour of a week a look of somebody is likeliest, by a Dirichlet-multinomial model in three levels: everybody’s
 * looks are the prior of a firm’s, and these that of a person’s (A. Gelman et al., Bayesian Data Analysis, 3rd edition,
 * sections 3.4 and 5.2; the posterior mean of a cell is (count + concentration × prior) / (total + concentration)).
 * Before anybody has looked, all hours are alike. Null then.
 *
 * @param zone of the reader (IANA)
 * @param now the next such hour is looked for from here on
 */
export function bestHour(looks: LooksOf, zone: string, now: number): BestHour | null {
  if (looks.own.length + looks.firm.length + looks.all.length === 0) return null;
  const even = new Array<number>(CELLS).fill(1 / CELLS);
  const all = posterior(looks.all, even, CONCENTRATION.all, zone);
  const firm = posterior(looks.firm, all, CONCENTRATION.firm, zone);
  const own = posterior(looks.own, firm, CONCENTRATION.own, zone);
  const cell = own.reduce((best, value, index) => (value > own[best]! + 1e-12 ? index : best), 0);
  const [weekday, hour] = [Math.floor(cell / HOURS), cell % HOURS];
  const likelihood = own[cell]!;
  return { weekday, hour, at: nextAt(cell, zone, now), likelihood, basis: basisOf(looks) };
}

function posterior(looks: readonly number[], prior: number[], concentration: number, zone: string): number[] {
  const counts = new Array<number>(CELLS).fill(0);
  for (const at of looks) {
    const { weekday, hour } = hourOfWeek(at, zone);
    const cell = weekday * HOURS + hour;
    for (const [step, weight] of [
      [0, 1],
      [-1, NEIGHBOUR],
      [1, NEIGHBOUR],
    ] as const)
      counts[(cell + step + CELLS) % CELLS]! += weight / (1 + 2 * NEIGHBOUR);
  }
  return prior.map((share, cell) => (counts[cell]! + concentration * share) / (looks.length + concentration));
}

/** The next beginning of an hour of the week; not the one that has begun. */
function nextAt(cell: number, zone: string, now: number): number {
  let at = Math.floor(now / HOUR) * HOUR + HOUR;
  for (let step = 0; step < CELLS + 2; step += 1, at += HOUR) {
    const { weekday, hour, localMs } = hourOfWeek(at, zone);
    // Zones that are half an hour off begin their hours elsewhere.
    if (weekday * HOURS + hour === cell) return at - (localMs % HOUR) < now ? at : at - (localMs % HOUR);
  }
  return at;
}

function basisOf({ own, firm, all }: LooksOf): string {
  const weight = own.length / (own.length + CONCENTRATION.own);
  const looks = (list: readonly number[]) => counted(list.length, 'look');
  if (weight >= 0.5) return `From ${looks(own)} of their own: fairly sure.`;
  if (own.length > 0) return `From ${looks(own)} of their own, and otherwise from others: a hint.`;
  if (firm.length > 0) return `Nothing is known of them: from ${looks(firm)} by others of their firm.`;
  return `Nothing is known of them: from ${looks(all)} by everybody.`;
}

/** “Tuesday around 10:00, 4 times likelier than an hour chosen blindly”: a likelihood, never a fact. */
export function bestHourSentence({ weekday, hour, likelihood }: BestHour): string {
  const times = likelihood * CELLS;
  const likelier = times >= 1.5 ? `, ${Math.round(times * 10) / 10} times likelier than an hour chosen blindly` : '';
  return hourWords({ weekday, hour }) + likelier;
}
