import fc from 'fast-check';
import { NETWORK_KINDS } from '@kiraku/core/contract';
import {
  countsAt,
  FORGOTTEN_BELOW,
  HALF_LIFE_MS,
  isWorthRemembering,
  learnt,
  seenAs,
  type NetworkCounts,
} from '@kiraku/core/tracking';
import { DAY } from '@kiraku/core/time';

const NOTHING: NetworkCounts = { filter: 0, people: 0, at: 0 };
const lessons = fc.array(
  fc.record({ kind: fc.constantFrom(...NETWORK_KINDS), at: fc.integer({ min: 0, max: 400 * DAY }) }),
  { minLength: 1, maxLength: 20 },
);
const all = (taught: readonly { kind: 'filter' | 'people'; at: number }[]) =>
  taught.reduce((counts, { kind, at }) => learnt(counts, kind, 1, at), NOTHING);

test('what was learnt is the same in whichever order it came', () => {
  fc.assert(
    fc.property(
      lessons.chain((list) => fc.tuple(fc.constant(list), fc.shuffledSubarray(list, { minLength: list.length }))),
      ([list, shuffled]) => {
        const [one, other] = [all(list), all(shuffled)];
        for (const kind of NETWORK_KINDS) expect(one[kind]).toBeCloseTo(other[kind], 9);
        expect(one.at).toBe(other.at);
      },
    ),
  );
});

test('what is taken back leaves nothing of it', () => {
  fc.assert(
    fc.property(lessons, fc.nat(), (list, pick) => {
      const back = list[pick % list.length]!;
      const rest = list.filter((one) => one !== back);
      const after = learnt(all(list), back.kind, -1, back.at);
      for (const kind of NETWORK_KINDS) expect(after[kind]).toBeCloseTo(countsAt(all(rest), after.at)[kind], 9);
    }),
  );
});

test('each time weighs half as much after the half-life, and nothing in the end', () => {
  const once = learnt(NOTHING, 'filter', 1, 0);
  expect(countsAt(once, HALF_LIFE_MS).filter).toBeCloseTo(0.5);
  expect(countsAt(once, 4 * HALF_LIFE_MS).filter).toBeLessThan(FORGOTTEN_BELOW);
  expect(countsAt(once, -DAY)).toBe(once);
});

test.each([
  [true, null, true],
  [true, 'people', true],
  [false, 'filter', true],
  [false, 'people', false],
  [false, null, false],
] as const)('of a data centre (%s) or by its lesson (%s) it is remembered: %s', (hosted, lesson, expected) =>
  expect(isWorthRemembering(hosted, lesson)).toBe(expected),
);

test.each([
  [0, 0, null],
  [1, 0, 'filter'],
  [0.4, 0, null],
  [3, 1, 'filter'],
  [3, 2, null],
  [0, 1, null],
  [0, 2, 'people'],
  [2, 4, 'people'],
])('with %d of a filter and %d of people it is taken for %s', (filter, people, expected) =>
  expect(seenAs({ filter, people })).toBe(expected),
);
