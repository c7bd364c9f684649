import type { WordingResult } from '@kiraku/core/contract';
import { rateOf } from '@kiraku/core/reports';
import { compareWordings, decidedWording, stateOf } from '@kiraku/core/rounds';

const result = (sent: number, replied: number, clicked = 0, links = sent): WordingResult => ({
  sent,
  rates: { replied: rateOf(replied, sent), clicked: rateOf(clicked, links), read: rateOf(0, sent) },
});

test('the strongest evidence comes first; what cannot be counted of each is left out', () => {
  const [first, ...others] = compareWordings([result(20, 1, 3), result(20, 8, 2)]);
  expect(first).toMatchObject({ evidence: 'replied', best: 1, next: 0 });
  expect(first!.difference.difference).toBeCloseTo(0.35, 10);
  expect(others.map(({ evidence, best }) => [evidence, best])).toEqual([
    ['clicked', 0],
    ['read', 0],
  ]);
  expect(compareWordings([result(20, 1, 0, 0), result(20, 8, 0, 0)]).map(({ evidence }) => evidence)).toEqual([
    'replied',
    'read',
  ]);
  expect(compareWordings([result(0, 0), result(3, 1)])).toEqual([]);
  expect(compareWordings([result(20, 1)])).toEqual([]);
});

test('of three, the best is compared with the next', () => {
  const [first] = compareWordings([result(30, 3), result(30, 12), result(30, 9)]);
  expect(first).toMatchObject({ best: 1, next: 2 });
  expect(first!.difference.difference).toBeCloseTo(0.1, 10);
});

test.each<[string, WordingResult[], number | null, number | null]>([
  ['a clear lead of enough', [result(40, 2), result(40, 16)], 0.95, 1],
  ['the same, where it was not chosen', [result(40, 2), result(40, 16)], null, null],
  ['an early lead', [result(19, 0), result(19, 12)], 0.95, null],
  ['a lead that may be chance', [result(40, 8), result(40, 11)], 0.95, null],
  ['clicks alone', [result(40, 4, 0), result(40, 4, 30)], 0.95, null],
])('whether the rest is decided by %s', (_name, results, decideAt, wording) => {
  expect(decidedWording(results, decideAt)).toBe(wording);
});

test('a round is done when it runs and nothing waits', () => {
  expect(stateOf('running', 0)).toBe('done');
  expect(stateOf('running', 1)).toBe('running');
  expect(stateOf('paused', 0)).toBe('paused');
});
