import { wasRead } from '../activity/index.js';
import type { MessageSummary, RoundMember } from '../contract/index.js';
import { hasLeft } from '../delivery/index.js';

type Test = (member: RoundMember) => boolean;

const sent =
  (test: (tally: MessageSummary['tally']) => boolean): Test =>
  ({ state, summary }) =>
    state === 'sent' && summary !== null && test(summary.tally);

/** How somebody of a round stands: exactly one of these is true of each. */
export const isOf = {
  replied: sent(({ replies }) => replies > 0),
  clicked: sent(({ replies, clicks, fileViews }) => replies === 0 && clicks + fileViews > 0),
  opened: sent(({ replies, clicks, fileViews, opens }) => replies + clicks + fileViews === 0 && opens > 0),
  noSign: sent((tally) => !wasRead(tally)),
  failed: ({ state }) => state === 'failed',
  onItsWay: ({ state }) => state === 'queued',
  waiting: (member) => !member.leftOut && !hasLeft(member),
  leftOut: (member) => member.leftOut && !hasLeft(member),
} as const satisfies Record<string, Test>;
