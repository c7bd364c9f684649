import { scaleLinear } from 'd3-scale';
import type { EventKind, TrailEvent } from '../contract/event.js';
import { DAY, HOUR, MINUTE, WEEK } from '../time/words.js';

/** The steps of the trail's axis, from the left: equal in width, each with the age it stands for. */
export const TRAIL_STEPS: readonly { label: string; ageMs: number }[] = [
  { label: '1 month', ageMs: 30 * DAY },
  { label: '1 week', ageMs: WEEK },
  { label: '1 day', ageMs: DAY },
  { label: '1 hour', ageMs: HOUR },
  { label: '10 min', ageMs: 10 * MINUTE },
  { label: 'now', ageMs: 0 },
];

/** What is older than the first step shares half a step at the left, up to this age. */
const OLDEST_MS = 365 * DAY;
const LEAD_IN = 0.5;

/**
 * Maps an age in milliseconds to a place between 0 (left) and 1 (now): linear within each step, the same for every
 * message, so that rows can be compared at a glance. Ages beyond either end are clamped.
 */
export const trailPosition: (ageMs: number) => number = scaleLinear()
  .domain([OLDEST_MS, ...TRAIL_STEPS.map((step) => step.ageMs)])
  .range([0, ...TRAIL_STEPS.map((_, index) => (LEAD_IN + index) / (LEAD_IN + TRAIL_STEPS.length - 1))])
  .clamp(true);

export type MarkShape = 'stroke' | 'diamond' | 'square' | 'arrow' | 'cross' | 'dot' | 'ring';

/** Each kind's shape; where marks merge, the kind that says more (higher rank) lends its shape. */
const SHAPES: Record<EventKind, { shape: MarkShape; rank: number }> = {
  delivered: { shape: 'dot', rank: 0 },
  receipt: { shape: 'dot', rank: 1 },
  opened: { shape: 'stroke', rank: 2 },
  clicked: { shape: 'diamond', rank: 3 },
  page_viewed: { shape: 'square', rank: 4 },
  file_viewed: { shape: 'square', rank: 5 },
  downloaded: { shape: 'square', rank: 6 },
  opted_out: { shape: 'cross', rank: 7 },
  bounced: { shape: 'cross', rank: 8 },
  replied: { shape: 'arrow', rank: 9 },
};

export function markShape(mark: Pick<TrailEvent, 'kind' | 'counted'>): MarkShape {
  return mark.counted ? SHAPES[mark.kind].shape : 'ring';
}

/** Marks drawn as one, because they would touch. */
export interface MarkGroup<M> {
  /** Place of the newest mark, in the units of `place`. */
  x: number;
  shape: MarkShape;
  counted: boolean;
  trailEvents: M[];
}

/**
 * Joins marks that would touch. What counts and what was not counted are joined apart, and a hollow mark that would touch a
 * counted mark gives way to it: it stays in the group's marks, so that nothing is lost from its description.
 *
 * @param trailEvents in any order
 * @param place where a mark stands
 * @param gap the least distance between two drawn marks, in the same units
 * @returns groups from left to right, each pair at least `gap` apart
 */
export function groupEvents<M extends Pick<TrailEvent, 'kind' | 'counted' | 'at'>>(
  trailEvents: readonly M[],
  place: (mark: M) => number,
  gap: number,
): MarkGroup<M>[] {
  const counted = joinNear(
    trailEvents.filter((mark) => mark.counted),
    place,
    gap,
  );
  const notCounted = joinNear(
    trailEvents.filter((mark) => !mark.counted),
    place,
    gap,
  );
  const free = notCounted.filter((ring) => {
    const neighbour = counted.find((group) => Math.abs(group.x - ring.x) < gap);
    neighbour?.trailEvents.push(...ring.trailEvents);
    return !neighbour;
  });
  return [...counted, ...free].sort((a, b) => a.x - b.x);
}

function joinNear<M extends Pick<TrailEvent, 'kind' | 'counted' | 'at'>>(
  trailEvents: M[],
  place: (mark: M) => number,
  gap: number,
): MarkGroup<M>[] {
  const newestFirst = [...trailEvents].sort((a, b) => b.at - a.at);
  const groups: MarkGroup<M>[] = [];
  for (const mark of newestFirst) {
    const x = place(mark);
    const last = groups.at(-1);
    if (last && last.x - x < gap) last.trailEvents.push(mark);
    else groups.push({ x, shape: markShape(mark), counted: mark.counted, trailEvents: [mark] });
  }
  for (const group of groups) {
    const strongest = group.trailEvents.reduce((a, b) => (SHAPES[b.kind].rank > SHAPES[a.kind].rank ? b : a));
    group.shape = markShape(strongest);
  }
  return groups;
}
