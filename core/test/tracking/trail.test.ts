import fc from 'fast-check';
import { EVENT_KINDS, type TrailEvent } from '@kiraku/core/contract';
import { groupEvents, TRAIL_STEPS, trailPosition } from '@kiraku/core/tracking';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

describe('trailPosition', () => {
  test('gives each step the same width, with now at the right edge', () => {
    const places = TRAIL_STEPS.map((step) => trailPosition(step.ageMs));
    const widths = places.slice(1).map((place, index) => place - places[index]!);
    widths.forEach((width) => expect(width).toBeCloseTo(widths[0]!, 10));
    expect(places.at(-1)).toBe(1);
  });

  test('keeps room for what is older, and never leaves the line', () => {
    expect(trailPosition(30 * DAY)).toBeGreaterThan(0);
    expect(trailPosition(45 * DAY)).toBeLessThan(trailPosition(30 * DAY));
    expect(trailPosition(4000 * DAY)).toBe(0);
    expect(trailPosition(-HOUR)).toBe(1);
  });

  test('younger is never further left', () => {
    const age = fc.integer({ min: -HOUR, max: 900 * DAY });
    fc.assert(
      fc.property(age, age, (a, b) => {
        const [young, old] = a < b ? [a, b] : [b, a];
        expect(trailPosition(young)).toBeGreaterThanOrEqual(trailPosition(old));
      }),
    );
  });
});

describe('groupEvents', () => {
  const mark = fc.record({
    eventId: fc.integer(),
    at: fc.integer({ min: 0, max: 90 * DAY }),
    kind: fc.constantFrom(...EVENT_KINDS),
    counted: fc.boolean(),
    label: fc.constant(null),
  });
  const place = (one: TrailEvent) => 300 * trailPosition(90 * DAY - one.at);

  test('no mark is lost, none drawn twice, and no two touch', () => {
    fc.assert(
      fc.property(fc.array(mark, { maxLength: 60 }), fc.integer({ min: 1, max: 20 }), (trailEvents, gap) => {
        const groups = groupEvents(trailEvents, place, gap);
        expect(new Set(groups.flatMap((group) => group.trailEvents))).toEqual(new Set(trailEvents));
        expect(groups.reduce((sum, group) => sum + group.trailEvents.length, 0)).toBe(trailEvents.length);
        groups.slice(1).forEach((group, index) => expect(group.x - groups[index]!.x).toBeGreaterThanOrEqual(gap));
      }),
    );
  });

  const at = (ageMs: number, kind: TrailEvent['kind'], counted = true) => ({
    eventId: ageMs,
    at: 90 * DAY - ageMs,
    kind,
    counted,
    label: null,
  });

  test('what says more lends its shape', () => {
    const [group] = groupEvents([at(MINUTE, 'opened'), at(MINUTE + 1, 'clicked'), at(MINUTE + 2, 'opened')], place, 8);
    expect(group).toMatchObject({ shape: 'diamond', counted: true });
    expect(group!.trailEvents).toHaveLength(3);
  });

  test('a mark that is not counted gives way to one that counts, and stands alone hollow', () => {
    const groups = groupEvents(
      [at(MINUTE, 'opened'), at(MINUTE + 1, 'opened', false), at(5 * DAY, 'clicked', false)],
      place,
      8,
    );
    expect(groups.map((group) => group.shape)).toEqual(['ring', 'stroke']);
    expect(groups[1]!.trailEvents).toHaveLength(2);
  });
});
