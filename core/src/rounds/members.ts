import type { RoundMember } from '../contract/round.js';
import { isOf } from './memberKinds.js';

/** Whom of a round the page shows. */
export const MEMBERS_SHOWN = [
  'all',
  'sent',
  'replied',
  'clicked',
  'read',
  'not-replied',
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
  /** Only those who got one wording by chance, from 0, or those who got the better one as the rest; null for any. */
  wording: number | 'rest' | null;
  order: MemberOrder;
}

export const DEFAULT_MEMBERS_VIEW: MembersView = { show: 'all', wording: null, order: 'contact' };

/** Those who did something and have had no reply come first, then those whom the message did not reach. */
const CONTACT_ORDER = ['clicked', 'opened', 'replied', 'failed', 'noSign', 'onItsWay', 'waiting', 'leftOut'] as const;

const RANKS: Record<MemberOrder, (member: RoundMember) => number[]> = {
  contact: (member) => [CONTACT_ORDER.findIndex((kind) => isOf[kind](member)), -activityOf(member)],
  activity: (member) => [-activityOf(member)],
  plan: (member) => [member.summary?.sentAt ?? member.sendAt ?? Infinity],
};

const isSent = ({ state }: RoundMember) => state === 'sent';

/** The same counts as those of a wording’s results, so that each of these leads to its people. */
const SHOWN: Record<MembersShown, (member: RoundMember) => boolean> = {
  all: () => true,
  sent: isSent,
  replied: (member) => isSent(member) && member.summary!.tally.replies > 0,
  clicked: (member) => isSent(member) && member.summary!.tally.clicks > 0,
  read: (member) => isSent(member) && isTracked(member) && !isOf.noSign(member),
  'not-replied': (member) => isOf.opened(member) || isOf.clicked(member),
  'no-sign': isOf.noSign,
  failed: isOf.failed,
  waiting: isOf.waiting,
  'left-out': isOf.leftOut,
};

/** Those of a round whom a view shows, in its order; who is equal stays in the order of the round. */
export function shownMembers(members: readonly RoundMember[], { show, wording, order }: MembersView): RoundMember[] {
  const rankOf = RANKS[order];
  return members
    .filter((member) => SHOWN[show](member) && hasWording(member, wording))
    .map((member) => ({ member, rank: rankOf(member) }))
    .sort((a, b) => compareRanks(a.rank, b.rank))
    .map(({ member }) => member);
}

/** Reads what an address says of it; what it does not name, or cannot be read, is as at first. */
export function membersViewFrom(entries: Iterable<[string, string]>): MembersView {
  const params = new Map(entries);
  const oneOf = <T extends string>(values: readonly T[], text: string | undefined, first: T) =>
    values.find((value) => value === text) ?? first;
  const wording = params.get('wording') ?? '';
  return {
    show: oneOf(MEMBERS_SHOWN, params.get('show'), DEFAULT_MEMBERS_VIEW.show),
    wording: wording === 'rest' ? wording : /^\d$/.test(wording) ? Number(wording) : null,
    order: oneOf(MEMBER_ORDERS, params.get('order'), DEFAULT_MEMBERS_VIEW.order),
  };
}

/** What an address must say for it. */
export function membersEntriesOf(view: MembersView): [string, string][] {
  return Object.entries(view)
    .filter(([name, value]) => value !== DEFAULT_MEMBERS_VIEW[name as keyof MembersView])
    .map(([name, value]) => [name, String(value)]);
}

function hasWording(member: RoundMember, wording: MembersView['wording']): boolean {
  if (wording === null) return true;
  return wording === 'rest' ? member.isRest : !member.isRest && member.wording === wording;
}

function compareRanks(a: readonly number[], b: readonly number[]): number {
  const differing = a.findIndex((value, index) => value !== b[index]);
  return differing === -1 ? 0 : a[differing]! < b[differing]! ? -1 : 1;
}

function isTracked({ summary }: RoundMember): boolean {
  return summary !== null && summary.trackOpens && summary.untrackedReason === null;
}

function activityOf({ summary }: RoundMember): number {
  return summary?.lastActivityAt ?? 0;
}
