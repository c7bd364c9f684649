import { group, least } from 'd3-array';
import type { RoundPace } from '../contract/round.js';
import { hourOfWeek } from '../time/hourOfWeek.js';
import { HOUR, MINUTE } from '../time/words.js';

type Hours = Omit<RoundPace, 'zone'>;

/** Somebody whose message waits. */
export interface WaitingMember {
  /** By whose clocks (IANA). */
  zone: string;
  /** When they most likely read next; null where nothing is known of it. */
  bestAt: number | null;
}

/** As a round is paced where nobody has chosen otherwise: in the morning of working days. */
export const DEFAULT_PACE: Omit<RoundPace, 'zone'> = {
  kind: 'hourly',
  perHour: 12,
  fromHour: 9,
  toHour: 11,
  weekdays: [0, 1, 2, 3, 4],
};

/** A week has as many hours, and one more where the clocks are set back. */
const HOURS_AHEAD = 7 * 24 + 2;

/**
 * How long one message of a round waits for the one before, in milliseconds.
 *
 * @param slowedBy how many times slower than wanted
 */
export function gapOf({ kind, perHour }: Hours, slowedBy: number): number {
  if (kind === 'hourly') return (HOUR / perHour) * slowedBy;
  return slowedBy > 1 ? MINUTE * slowedBy : 0;
}

/**
 * When each message of a round leaves: in their order, as far apart as the pace says, and within the hours and weekdays of
 * each recipient. Whose day has not begun lets the next go first.
 *
 * @param from the first may leave then; epoch milliseconds
 * @returns a time for each, in the order given
 */
export function planTimes(waiting: readonly WaitingMember[], pace: Hours, from: number, slowedBy = 1): number[] {
  const gap = gapOf(pace, slowedBy);
  if (pace.kind === 'at-once') return waiting.map((_, index) => from + index * gap);
  const times = new Array<number>(waiting.length);
  let left = waiting.map((member, index) => ({ ...member, index }));
  if (pace.kind === 'best-time') {
    for (const { bestAt, index } of left) if (bestAt !== null) times[index] = Math.max(bestAt, from);
    left = left.filter(({ bestAt }) => bestAt === null);
  }
  // Of those by the same clocks, the first goes first: only these are compared.
  const queues = [...group(left, ({ zone }) => zone)].map(([zone, members]) => ({ zone, members: members.reverse() }));
  for (let at = from, count = left.length; count > 0; count -= 1) {
    const fronts = queues.filter(({ members }) => members.length > 0);
    const openings = fronts.map(({ zone }) => nextOpening(at, pace, zone));
    const opening = Math.min(...openings);
    const next = least(
      fronts.filter((_, index) => openings[index] === opening),
      ({ members }) => members.at(-1)!.index,
    )!;
    times[next.members.pop()!.index] = opening;
    at = opening + gap;
  }
  return times;
}

/** From a time on, the first moment within the hours and weekdays of a pace by the clocks of a zone. */
function nextOpening(from: number, pace: Hours, zone: string): number {
  let at = from;
  for (let step = 0; step < HOURS_AHEAD; step += 1) {
    const { weekday, hour, localMs } = hourOfWeek(at, zone);
    if (pace.weekdays.includes(weekday) && hour >= pace.fromHour && hour < pace.toHour) return at;
    at += HOUR - (((localMs % HOUR) + HOUR) % HOUR);
  }
  return from;
}

/** Why nothing could leave by a pace, in words; null where it can. */
export function paceProblem({ kind, perHour, fromHour, toHour, weekdays }: Hours): string | null {
  if (kind === 'at-once') return null;
  if (weekdays.length === 0) return 'Choose at least one weekday.';
  if (fromHour >= toHour) return 'The first hour must be before the last.';
  return perHour > 0 ? null : 'At least 1 message an hour must leave.';
}
