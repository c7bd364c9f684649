import type { RoundWarning } from '../contract/round.js';
import { DAY } from '../time/words.js';

/** What is known of somebody to whom a round is to go. */
export interface MemberFacts {
  /** Their address as it is compared, and their person; null where nobody is known. */
  key: string;
  personId: number | null;
  optedOut: boolean;
  doNotTrack: boolean;
  /** Whether the newest message to them could not be delivered. */
  bounced: boolean;
  /** When they were last written to, besides by this round. */
  lastSentAt: number | null;
}

interface Asked {
  now: number;
  recentDays: number;
  /** Whether somebody before is the same person, or has the same address. */
  isRepeated: boolean;
}

/** What is pointed out of whom, the gravest first. */
const RULES: Record<RoundWarning, (facts: MemberFacts, asked: Asked) => boolean> = {
  'opted-out': ({ optedOut }) => optedOut,
  bounced: ({ bounced }) => bounced,
  twice: (_facts, { isRepeated }) => isRepeated,
  recently: ({ lastSentAt }, { now, recentDays }) => lastSentAt !== null && lastSentAt > now - recentDays * DAY,
  'not-tracked': ({ doNotTrack, optedOut }) => doNotTrack && !optedOut,
};

/** Whoever opted out gets no message of a round, whatever is pressed; of the rest the user decides. */
export const WITHHOLDING: ReadonlySet<RoundWarning> = new Set(['opted-out']);

/**
 * What should be thought of before a round begins, for each to whom it goes.
 *
 * @param members in the order of the round: of two that are the same, the first one stands for both
 */
export function warningsOf(members: readonly MemberFacts[], now: number, recentDays: number): RoundWarning[][] {
  const seen = new Set<string | number>();
  return members.map((facts) => {
    const names = [facts.key, ...(facts.personId === null ? [] : [facts.personId])];
    const isRepeated = names.some((name) => seen.has(name));
    names.forEach((name) => seen.add(name));
    return (Object.keys(RULES) as RoundWarning[]).filter((name) => RULES[name](facts, { now, recentDays, isRepeated }));
  });
}
