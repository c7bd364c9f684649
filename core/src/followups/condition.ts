import { wasRead } from '../activity/kinds.js';
import type { Condition, Tally } from '../contract/index.js';

/** What became of a message, as far as conditions ask for it. */
export type Counts = Pick<Tally, 'opens' | 'clicks' | 'fileViews' | 'replies'>;

interface Rule {
  /** Whether nothing of what it waits for has happened. */
  holds(counts: Counts): boolean;
  /** What happened, where it no longer holds. */
  resolved(counts: Counts): string;
}

const done = ({ replies, clicks, fileViews }: Counts) =>
  replies > 0 ? 'Replied' : clicks > 0 ? 'A link was clicked' : fileViews > 0 ? 'A file was viewed' : 'Read';

/** A click, a file view or a reply proves that it was read; a reply ends everything but “in any case”. */
const RULES: Record<Condition, Rule> = {
  'not-replied': { holds: ({ replies }) => replies === 0, resolved: () => 'Replied' },
  'not-opened': {
    holds: (counts) => !wasRead(counts),
    resolved: done,
  },
  'not-clicked': {
    holds: ({ clicks, fileViews, replies }) => clicks + fileViews + replies === 0,
    resolved: done,
  },
  always: { holds: () => true, resolved: () => '' },
};

/** Whether a condition still holds for what became of a message. */
export function holds(condition: Condition, counts: Counts): boolean {
  return RULES[condition].holds(counts);
}

/** Whether a reply ends it, whatever else it waits for. */
export function endsWithReply(condition: Condition): boolean {
  return !holds(condition, { opens: 0, clicks: 0, fileViews: 0, replies: 1 });
}

/** What happened, where a condition no longer holds: “Replied”. */
export function resolvedText(condition: Condition, counts: Counts): string {
  return RULES[condition].resolved(counts);
}
