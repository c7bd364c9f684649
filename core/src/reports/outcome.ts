import { quantileSorted } from 'd3-array';
import { EVIDENCE, type Evidence } from '../contract/round.js';
import { RATES, type Comparison, type Outcome, type Rate, type RateName, type Spread } from '../contract/report.js';
import { FACT_COMBINATIONS, FACTS, type Fact } from './facts.js';
import { compare, rateOf, Z } from './rate.js';

/** Of which messages a share is, and which of these it counts; of all where no fact is named. */
const RATE_FACTS: Record<RateName, readonly [of: Fact | null, counted: Fact]> = {
  read: ['isTracked', 'wasRead'],
  clicked: ['hasLinks', 'wasClicked'],
  viewed: ['hasFiles', 'wasViewed'],
  replied: [null, 'wasReplied'],
};

/** Counts what became of messages. */
export class RateCounter {
  private readonly byFacts = new Uint32Array(FACT_COMBINATIONS);
  messages = 0;

  /** @param facts the sum of FACTS that are true of the message */
  add(facts: number): void {
    this.byFacts[facts]! += 1;
    this.messages += 1;
  }

  rate(name: RateName): Rate {
    const [of, counted] = RATE_FACTS[name];
    const all = of === null ? 0 : FACTS[of];
    return rateOf(this.count(all | FACTS[counted]), this.count(all));
  }

  /** What wordings are compared by. */
  evidence(): Record<Evidence, Rate> {
    return Object.fromEntries(EVIDENCE.map((name) => [name, this.rate(name)])) as Record<Evidence, Rate>;
  }

  /** Of how many all these facts are true. */
  private count(facts: number): number {
    return this.byFacts.reduce((sum, n, combination) => ((combination & facts) === facts ? sum + n : sum), 0);
  }
}

/** Counts what became of messages, and how soon. */
export class OutcomeCounter {
  readonly rates = new RateCounter();
  private readonly untilOpened = new Lengths();
  private readonly untilReplied = new Lengths();

  add(facts: number, sentAt: number, firstOpenAt: number | null, repliedAt: number | null): void {
    this.rates.add(facts);
    if (firstOpenAt !== null) this.untilOpened.add(firstOpenAt - sentAt);
    if (repliedAt !== null) this.untilReplied.add(repliedAt - sentAt);
  }

  view(): Outcome {
    const { rates, untilOpened, untilReplied } = this;
    return {
      messages: rates.messages,
      ...ratesBy((name) => rates.rate(name)),
      untilOpened: untilOpened.spread(),
      untilReplied: untilReplied.spread(),
    };
  }
}

/** By how much each share differs from what it was. */
export function changesOf(now: Outcome, before: Outcome): Record<RateName, Comparison | null> {
  return ratesBy((name) => compare(now[name], before[name], Z[95]));
}

function ratesBy<T>(valueOf: (name: RateName) => T): Record<RateName, T> {
  return Object.fromEntries(RATES.map((name) => [name, valueOf(name)])) as Record<RateName, T>;
}

/** Lengths of time, very many: eight bytes for each. */
class Lengths {
  private values = new Float64Array(1024);
  private n = 0;

  add(ms: number): void {
    if (this.n === this.values.length) {
      const larger = new Float64Array(2 * this.n);
      larger.set(this.values);
      this.values = larger;
    }
    this.values[this.n] = ms;
    this.n += 1;
  }

  spread(): Spread | null {
    if (this.n === 0) return null;
    const sorted = this.values.slice(0, this.n).sort() as ArrayLike<number> as number[];
    // An open may be noted a moment before the sending is.
    const at = (part: number) => Math.max(quantileSorted(sorted, part)!, 0);
    return { n: this.n, firstQuartile: at(0.25), median: at(0.5), thirdQuartile: at(0.75) };
  }
}
