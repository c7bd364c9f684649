import type { Condition, Tally } from '../contract/index.js';

/** What became of a letter, as far as conditions ask for it. */
export type Counts = Pick<Tally, 'opens' | 'clicks' | 'fileViews' | 'answers'>;

interface Rule {
  /** “if not answered”. */
  words: string;
  /** Whether nothing of what it waits for has happened. */
  holds(counts: Counts): boolean;
  /** What happened, where it no longer holds. */
  settled(counts: Counts): string;
}

const done = ({ answers, clicks, fileViews }: Counts) =>
  answers > 0 ? 'Answered' : clicks > 0 ? 'A link was followed' : fileViews > 0 ? 'A file was viewed' : 'Read';

/** A click, a file view or an answer proves that it was read; an answer settles everything but “in any case”. */
const RULES: Record<Condition, Rule> = {
  unanswered: { words: 'if not answered', holds: ({ answers }) => answers === 0, settled: () => 'Answered' },
  unopened: {
    words: 'if not opened',
    holds: ({ opens, clicks, fileViews, answers }) => opens + clicks + fileViews + answers === 0,
    settled: done,
  },
  unfollowed: {
    words: 'if no link was followed',
    holds: ({ clicks, fileViews, answers }) => clicks + fileViews + answers === 0,
    settled: done,
  },
  always: { words: 'in any case', holds: () => true, settled: () => '' },
};

/** Whether a condition still holds for what became of a letter. */
export function holds(condition: Condition, counts: Counts): boolean {
  return RULES[condition].holds(counts);
}

/** “if not answered”. */
export function conditionWords(condition: Condition): string {
  return RULES[condition].words;
}

/** Whether an answer settles it, whatever else it waits for. */
export function restsOnAnswer(condition: Condition): boolean {
  return !holds(condition, { opens: 0, clicks: 0, fileViews: 0, answers: 1 });
}

/** What happened, where a condition no longer holds: “Answered”. */
export function settledWords(condition: Condition, counts: Counts): string {
  return RULES[condition].settled(counts);
}
