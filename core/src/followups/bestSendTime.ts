import type { BestSendTime } from '../contract/index.js';
import { hourOfWeek } from '../time/hourOfWeek.js';
import { basisSentence } from '../sentences/bestSendTime.js';
import { HOUR } from '../time/words.js';

const DAYS = 7;
const HOURS = 24;
const CELLS = DAYS * HOURS;

/** Opens of one person, of their company’s others, and of everybody, in epoch milliseconds. */
export interface ReadingHistory {
  own: readonly number[];
  company: readonly number[];
  all: readonly number[];
}

/**
 * How many opens of their own outweigh what is known of others: the concentration of the Dirichlet prior at each level.
 * With as many opens of one’s own, half of the estimate is one’s own.
 */
const CONCENTRATION = { all: 40, company: 20, own: 15 };
/** Who reads at ten may read at eleven. */
const NEIGHBOUR = 0.5;

/**
 * At which hour of a week an open by somebody is most likely, by a Dirichlet-multinomial model in three levels: everybody’s
 * opens are the prior of a company’s, and these that of a person’s (A. Gelman et al., Bayesian Data Analysis, 3rd edition,
 * sections 3.4 and 5.2; the posterior mean of a cell is (count + concentration × prior) / (total + concentration)).
 * Before anybody has looked, all hours are alike. Null then.
 *
 * @param zone of the reader (IANA)
 * @param now the next such hour is looked for from here on
 */
export function bestSendTime(readTimes: ReadingHistory, zone: string, now: number): BestSendTime | null {
  if (readTimes.own.length + readTimes.company.length + readTimes.all.length === 0) return null;
  const even = new Array<number>(CELLS).fill(1 / CELLS);
  const all = posterior(readTimes.all, even, CONCENTRATION.all, zone);
  const company = posterior(readTimes.company, all, CONCENTRATION.company, zone);
  const own = posterior(readTimes.own, company, CONCENTRATION.own, zone);
  const cell = own.reduce((best, value, index) => (value > own[best]! + 1e-12 ? index : best), 0);
  const [weekday, hour] = [Math.floor(cell / HOURS), cell % HOURS];
  const probability = own[cell]!;
  return { weekday, hour, at: nextAt(cell, zone, now), probability, basis: basisOf(readTimes) };
}

function posterior(readTimes: readonly number[], prior: number[], concentration: number, zone: string): number[] {
  const counts = new Array<number>(CELLS).fill(0);
  for (const at of readTimes) {
    const { weekday, hour } = hourOfWeek(at, zone);
    const cell = weekday * HOURS + hour;
    for (const [step, weight] of [
      [0, 1],
      [-1, NEIGHBOUR],
      [1, NEIGHBOUR],
    ] as const)
      counts[(cell + step + CELLS) % CELLS]! += weight / (1 + 2 * NEIGHBOUR);
  }
  return prior.map((share, cell) => (counts[cell]! + concentration * share) / (readTimes.length + concentration));
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

function basisOf({ own, company, all }: ReadingHistory): string {
  const ownWeight = own.length / (own.length + CONCENTRATION.own);
  return basisSentence({ own: own.length, company: company.length, all: all.length, ownWeight });
}
