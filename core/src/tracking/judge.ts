import type { HitKind } from '../activity/kinds.js';
import { MINUTE, SECOND } from '../time/words.js';
import { EVIDENCE, MOMENT_MS, REMEMBERED, viewOf, type Evidence } from './evidence.js';
import { FACTS, isOlderThan, type Reason } from './facts.js';
import { pressedOf, type Hit, type Situation, type Verdict } from './hit.js';
import type { Lesson } from './networkMemory.js';
import { COPY_REACH_MS, NETWORK_REACH_MS, Surroundings } from './surroundings.js';
import { PRIOR, WEIGHTS } from './weights.js';

/** Whether something counts, and why not. */
type Opinion = Pick<Verdict, 'counted' | 'reason'>;

/** How likely it is that something is a person’s, in percent, and the sender’s own verdict. */
interface Likely {
  likelihood: number | null;
  override?: boolean | null;
}

/** What a hit is seen to be by itself and what is around it. A mere repeat is a person’s all the same. */
interface Finding {
  /** Name of the fact that decides alone; null where evidence is weighed. */
  fact: string | null;
  likelihood: number;
  /** What applies, strongest first. */
  evidence: readonly Evidence[];
  lesson: Lesson | null;
}

/** From so likely on, in percent, a hit counts. */
export const COUNTED_FROM = 50;
/** In percent: between these, a verdict is uncertain, and is called so. */
export const UNCERTAIN = { from: 35, below: 65 };
/** In percent, without what is remembered: a hit as plain as this teaches what its network is. */
const PLAIN = { filter: 10, people: 90 };
/** So many pieces of evidence are named with a verdict. */
const NAMED_EVIDENCE = 2;

const REPEAT_MS: Record<HitKind, number> = {
  opened: MINUTE,
  // A page that is slow to come is pressed for again.
  clicked: 30 * SECOND,
  file_viewed: 5 * SECOND,
  downloaded: 5 * SECOND,
};
const LONGEST_REPEAT_MS = Math.max(...Object.values(REPEAT_MS));

/**
 * Farther from each other than this, no hit changes the verdict of another; and a verdict depends on no hit farther
 * away. So a part of a history can be judged by itself where all within this time is at hand.
 */
export const REACH_MS = NETWORK_REACH_MS + LONGEST_REPEAT_MS;

const REPEAT: Reason = {
  name: 'repeat',
  words: 'the same reader again within moments',
  evidence: 'what the same network and program did just before',
  source: 'programs load an image again when a window is resized or a message is shown twice',
};

/** Not among what is judged: whoever records it knows it from how much has come. */
export const FLOOD: Reason = {
  name: 'flood',
  words: 'more requests at once than a person makes',
  evidence: 'how often the same network came',
  source: 'so that one visitor cannot fill the history',
};

export const AUTOMATIC_REPLY: Reason = {
  name: 'automatic-reply',
  words: 'an automatic reply',
  evidence: 'what its header says about who wrote it',
  source: 'RFC 3834, section 5',
};

export const PERHAPS_AUTOMATIC: Reason = {
  name: 'perhaps-automatic',
  words: 'perhaps an automatic reply: it counts once you confirm it',
  evidence: 'what its header and its first words say',
  source: 'RFC 3834, section 5, and how programs word an absence',
};

export const OVERRIDDEN: Reason = {
  name: 'override',
  words: 'you decided so',
  evidence: 'your own decision, which stands over every rule',
  source: 'chosen on the message’s page',
};

/** Every reason that decides alone, in the order in which they are tried. */
export const DECISIVE: readonly Reason[] = [...FACTS, REPEAT, FLOOD, OVERRIDDEN, AUTOMATIC_REPLY, PERHAPS_AUTOMATIC];

/** The verdict on the pages of a reading, by that on its opening: a mere repeat of it was a reading all the same. */
export function verdictOfPages({ counted, reason }: Opinion): Opinion {
  return reason === REPEAT.name ? { counted: true, reason: null } : { counted, reason };
}

/** What is said of a reason, or of a piece of evidence; undefined where it has gone since. */
export function reasonOf(name: string): Reason | undefined {
  return [...DECISIVE, ...EVIDENCE].find((reason) => reason.name === name);
}

/** Whether evidence speaks so little for either that nobody can be sure; never where a fact or the sender decides. */
export function isUncertain({ likelihood, override = null }: Likely): boolean {
  return override === null && likelihood !== null && likelihood >= UNCERTAIN.from && likelihood < UNCERTAIN.below;
}

/** Whether a reason is a fact, which no other hit changes. */
export function isFact(reason: string | null): boolean {
  return FACTS.some(({ name }) => name === reason);
}

/** How likely it is a person with such evidence, in percent: the sum of its weights and of the prior, as log-odds. */
export function likelihoodOf(evidence: readonly Pick<Evidence, 'name'>[]): number {
  const logOdds = evidence.reduce((sum, { name }) => sum + weightOf(name), PRIOR);
  return Math.round(100 / (1 + Math.exp(-logOdds)));
}

/**
 * Judges hits of one message in each other’s company. Pure: the same hits in the same situation always get the same
 * verdicts, in whichever order they are given.
 *
 * @returns the verdicts in the order of the hits given
 */
export function judge(hits: readonly Hit[], situation: Situation): Verdict[] {
  const judging = new Judging(new Surroundings(hits), situation);
  return hits.map((hit) => judging.verdictOn(hit));
}

/**
 * Judges those hits anew whose verdicts one of them may have changed, itself among them.
 *
 * @param surroundings of the hit: at least all within twice {@link REACH_MS}, itself among them
 */
export function judgeAround<H extends Hit>(
  hit: H,
  surroundings: Surroundings<H>,
  situation: Situation,
): Map<H, Verdict> {
  const judging = new Judging(surroundings, situation);
  const reached = new Set<H>([hit]);
  for (const other of surroundings.overNetwork(hit, REACH_MS)) if (mayChange(hit, other)) reached.add(other);
  for (const other of surroundings.ofCopy(hit, COPY_REACH_MS + LONGEST_REPEAT_MS))
    // Shadows, and filters that change their address; and a cache’s repeats.
    if (other.hosted || other.agent.nature === 'cache') reached.add(other);
  return new Map([...reached].map((one) => [one, judging.verdictOn(one)]));
}

/** Whether a hit may change what another over its network is seen to be, or what a repeat of that one is. */
function mayChange(hit: Hit, other: Hit): boolean {
  if (Math.abs(hit.at - other.at) <= MOMENT_MS + LONGEST_REPEAT_MS) return true;
  // Farther away, what counts is whether the message was opened before, and in a data centre how many links were followed.
  return other.copyId === hit.copyId && (other.hosted || (hit.kind === 'opened' && hit.at < other.at));
}

/** What speaks for and against each of the hits of one message, strongest first; null where a fact decides alone. */
export function evidenceOn(hits: readonly Hit[], situation: Situation): (readonly Evidence[] | null)[] {
  const judging = new Judging(new Surroundings(hits), situation);
  return hits.map((hit) => judging.evidenceOn(hit));
}

/** Looks at each hit once, however often it is asked for. */
class Judging {
  private readonly findings = new Map<Hit, Finding>();

  constructor(
    private readonly surroundings: Surroundings,
    private readonly situation: Situation,
  ) {}

  verdictOn(hit: Hit): Verdict {
    const { fact, likelihood, evidence, lesson } = this.find(hit);
    if (fact !== null) return notCounted(fact);
    const counted = likelihood >= COUNTED_FROM;
    if (counted && this.isRepeat(hit)) return notCounted(REPEAT.name);
    const speaking = evidence.filter(({ speaksFor }) => speaksFor === (counted ? 'person' : 'machine'));
    const named = speaking.slice(0, NAMED_EVIDENCE).map(({ name }) => name);
    const notifies = counted && this.mayNotify(hit);
    return { counted, reason: counted ? null : named[0]!, notifies, likelihood, evidence: named, lesson };
  }

  evidenceOn(hit: Hit): readonly Evidence[] | null {
    const { fact, evidence } = this.find(hit);
    return fact === null ? evidence : null;
  }

  private find(hit: Hit): Finding {
    const known = this.findings.get(hit);
    if (known) return known;
    const finding = this.look(hit);
    this.findings.set(hit, finding);
    return finding;
  }

  private look(hit: Hit): Finding {
    const fact = FACTS.find(({ applies }) => applies(hit, this.situation));
    if (fact) return { fact: fact.name, likelihood: 0, evidence: [], lesson: null };
    const view = viewOf(hit, this.situation, this.surroundings);
    const evidence = BY_WEIGHT.filter(({ applies }) => applies(view));
    const seen = evidence.filter(({ name }) => !REMEMBERED.has(name));
    return { fact: null, likelihood: likelihoodOf(evidence), evidence, lesson: lessonOf(likelihoodOf(seen)) };
  }

  /** It follows another of the same reader on the same target closely, whether or not that one is a repeat. */
  private isRepeat(hit: Hit): boolean {
    const within = REPEAT_MS[hit.kind];
    // A cache’s own addresses say nothing about who reads: its hits on a copy are one reader’s.
    const before =
      hit.agent.nature === 'cache'
        ? this.surroundings.ofCopy(hit, within, 0)
        : this.surroundings.overNetwork(hit, within, 0);
    return before.some(
      (other) =>
        isBefore(other, hit) &&
        hit.at - other.at < within &&
        isSameReaderAndTarget(other, hit) &&
        this.isOfPerson(other),
    );
  }

  private isOfPerson(hit: Hit): boolean {
    const { fact, likelihood } = this.find(hit);
    return fact === null && likelihood >= COUNTED_FROM;
  }

  private mayNotify(hit: Hit): boolean {
    const { copies, colleagues, notifyForMs } = this.situation;
    if (colleagues === 'muted' && copies.get(hit.copyId)?.colleague === true) return false;
    return !isOlderThan(notifyForMs, hit, this.situation);
  }
}

const BY_WEIGHT: readonly Evidence[] = [...EVIDENCE].sort(
  (a, b) => Math.abs(weightOf(b.name)) - Math.abs(weightOf(a.name)),
);

function weightOf(name: string): number {
  return (WEIGHTS as Record<string, number>)[name]!;
}

function notCounted(reason: string): Verdict {
  return { counted: false, reason, notifies: false, likelihood: null, evidence: [], lesson: null };
}

function lessonOf(likelihood: number): Lesson | null {
  if (likelihood <= PLAIN.filter) return 'filter';
  return likelihood >= PLAIN.people ? 'people' : null;
}

function isBefore(a: Hit, b: Hit): boolean {
  return a.at < b.at || (a.at === b.at && a.id < b.id);
}

function isSameReaderAndTarget(a: Hit, b: Hit): boolean {
  return a.copyId === b.copyId && a.kind === b.kind && a.userAgent === b.userAgent && pressedOf(a) === pressedOf(b);
}
