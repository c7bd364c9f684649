import type { RoundMember } from '../contract/round.js';
import { isOf } from './memberKinds.js';

/** Whom of a round the page shows. */
export const MEMBERS_SHOWN = [
  'all',
  'replied',
  'not-replied',
  'clicked',
  'no-sign',
  'failed',
  'waiting',
  'left-out',
] as const;
export type MembersShown = (typeof MEMBERS_SHOWN)[number];

/** `contact`: who should be got in touch with first. */
export const MEMBER_ORDERS = ['contact', 'activity', 'plan'] as const;
export type MemberOrder = (typeof MEMBER_ORDERS)[number];

export interface MembersView {
  show: MembersShown;
  /** Only those with one wording; null for any. */
  wording: number | null;
  order: MemberOrder;
}

export const DEFAULT_MEMBERS_VIEW: MembersView = { show: 'all', wording: null, order: 'contact' };

/** Those who did something and have had no reply come first, then those whom the message did not reach. */
const CONTACT_ORDER = ['clicked', 'opened', 'replied', 'failed', 'noSign', 'waiting', 'leftOut'] as const;

const BY: Record<MemberOrder, (member: RoundMember) => number[]> = {
  contact: (member) => [CONTACT_ORDER.findIndex((kind) => isOf[kind](member)), -activityOf(member)],
  activity: (member) => [-activityOf(member)],
  plan: (member) => [member.summary?.sentAt ?? member.sendAt ?? Infinity],
};

const SHOWN: Record<MembersShown, (member: RoundMember) => boolean> = {
  all: () => true,
  replied: isOf.replied,
  'not-replied': (member) => isOf.opened(member) || isOf.clicked(member),
  clicked: (member) => (member.summary?.tally.clicks ?? 0) > 0 || (member.summary?.tally.fileViews ?? 0) > 0,
  'no-sign': isOf.noSign,
  failed: isOf.failed,
  waiting: isOf.waiting,
  'left-out': isOf.leftOut,
};

/** Those of a round whom a view shows, in its order; who is equal stays in the order of the round. */
export function shownMembers(members: readonly RoundMember[], { show, wording, order }: MembersView): RoundMember[] {
  const rank = BY[order];
  return members
    .filter((member) => SHOWN[show](member) && (wording === null || member.wording === wording))
    .map((member) => ({ member, rank: rank(member) }))
    .sort((a, b) => compareRanks(a.rank, b.rank))
    .map(({ member }) => member);
}

function compareRanks(a: readonly number[], b: readonly number[]): number {
  const differing = a.findIndex((value, index) => value !== b[index]);
  return differing === -1 ? 0 : a[differing]! < b[differing]! ? -1 : 1;
}

function activityOf({ summary }: RoundMember): number {
  return summary?.lastActivityAt ?? 0;
}
