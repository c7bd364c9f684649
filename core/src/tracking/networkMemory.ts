import type { NetworkKind } from '../contract/judging.js';
import { DAY } from '../time/words.js';

/** What a hit teaches of its network. */
export type Lesson = NetworkKind;

/** How often a network was seen as what, lately: each time weighs half as much after {@link HALF_LIFE_MS}. */
export interface NetworkCounts {
  filter: number;
  people: number;
  /** When the counts were what they are. */
  at: number;
}

/** A network as judging needs it. */
export interface KnownNetwork {
  /** What it was seen to be; null where that is not plain. */
  seenAs: NetworkKind | null;
  /** What the user says that it is; null where they have said nothing. */
  namedAs: NetworkKind | null;
}

/** A network of which nothing is known. */
export const UNKNOWN_NETWORK: KnownNetwork = { seenAs: null, namedAs: null };

export const HALF_LIFE_MS = 90 * DAY;
/** Less than this is as good as nothing: the network is forgotten. */
export const FORGOTTEN_BELOW = 0.1;
/** A correction by the user teaches as much as so many hits. */
const CORRECTION_TEACHES = 3;

/** What arithmetic leaves where all was subtracted again. */
const NOTHING = 1e-6;

/** From so often on, and so much oftener than the other, a network is taken for something. */
const SEEN = { filter: 0.5, people: 1.5, oftener: 2 };

/** What is left of the counts at a later time; at an earlier one, what they are. */
export function countsAt(counts: NetworkCounts, now: number): NetworkCounts {
  if (now <= counts.at) return counts;
  const left = leftAfter(now - counts.at);
  return { filter: counts.filter * left, people: counts.people * left, at: now };
}

/**
 * The counts after something was learnt, or is no longer so.
 *
 * @param times how often; negative where it is subtracted again
 * @param at when it was seen
 */
export function learnt(counts: NetworkCounts, lesson: Lesson, times: number, at: number): NetworkCounts {
  const now = countsAt(counts, at);
  const seen = now[lesson] + times * leftAfter(now.at - at);
  return { ...now, [lesson]: seen < NOTHING ? 0 : seen };
}

/** What a network was seen to be, by what is left of its counts; null where that is not plain. */
export function seenAs({ filter, people }: Omit<NetworkCounts, 'at'>): NetworkKind | null {
  if (filter >= SEEN.filter && filter >= SEEN.oftener * people) return 'filter';
  if (people >= SEEN.people && people >= SEEN.oftener * filter) return 'people';
  return null;
}

/** Whether a network is remembered that was not so far: one of a data centre, or once a filter was seen there; no home. */
export function isWorthRemembering(hosted: boolean, lesson: Lesson | null): boolean {
  return hosted || lesson === 'filter';
}

/** What the user's own verdict on a hit teaches of its network; null where they leave it to the rules. */
export function lessonOfOverride(override: boolean | null): Lesson | null {
  if (override === null) return null;
  return override ? 'people' : 'filter';
}

/** As often as what a hit teaches counts: a correction by the user teaches more than what was only seen. */
export function timesTaught(override: boolean | null): number {
  return override === null ? 1 : CORRECTION_TEACHES;
}

/** What a network is taken for: what the user says goes before what was seen. */
export function takenFor({ namedAs, seenAs: seen }: KnownNetwork): NetworkKind | null {
  return namedAs ?? seen;
}

function leftAfter(ms: number): number {
  return 2 ** (-Math.max(0, ms) / HALF_LIFE_MS);
}
