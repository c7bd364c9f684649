import type { RoundMember } from '../contract/round.js';

type Test = (member: RoundMember) => boolean;

const sent =
  (test: (summary: NonNullable<RoundMember['summary']>) => boolean): Test =>
  ({ summary }) =>
    summary !== null && summary.state !== 'failed' && summary.state !== 'scheduled' && test(summary);

const acted = sent(({ tally }) => tally.replies === 0 && (tally.clicks > 0 || tally.fileViews > 0));

/** How somebody of a round stands: exactly one of these is true of each. */
export const isOf = {
  clicked: acted,
  opened: sent(({ tally }) => tally.replies === 0 && tally.clicks === 0 && tally.fileViews === 0 && tally.opens > 0),
  replied: sent(({ tally }) => tally.replies > 0),
  noSign: sent(({ tally }) => tally.replies === 0 && tally.clicks === 0 && tally.fileViews === 0 && tally.opens === 0),
  failed: ({ state }) => state === 'failed',
  waiting: ({ state, leftOut }) => !leftOut && (state === 'draft' || state === 'scheduled'),
  leftOut: ({ state, leftOut }) => leftOut && (state === 'draft' || state === 'scheduled'),
} as const satisfies Record<string, Test>;
