import { conditionWords, countsOf, holds, restsOnAnswer, settledWords, type Counts } from '@kiraku/core/followups';

const NOTHING: Counts = { opens: 0, clicks: 0, fileViews: 0, answers: 0 };
const counts = (change: Partial<Counts>): Counts => ({ ...NOTHING, ...change });

test.each<[condition: Parameters<typeof holds>[0], change: Partial<Counts>, expected: boolean, settled: string]>([
  ['unanswered', {}, true, 'Answered'],
  ['unanswered', { opens: 3, clicks: 1, fileViews: 1 }, true, 'Answered'],
  ['unanswered', { answers: 1 }, false, 'Answered'],
  ['unopened', {}, true, 'Read'],
  ['unopened', { opens: 1 }, false, 'Read'],
  ['unopened', { clicks: 1 }, false, 'A link was followed'],
  ['unopened', { fileViews: 1 }, false, 'A file was viewed'],
  ['unopened', { opens: 2, clicks: 1, fileViews: 1 }, false, 'A link was followed'],
  ['unopened', { answers: 1, clicks: 1 }, false, 'Answered'],
  ['unfollowed', {}, true, 'Read'],
  ['unfollowed', { opens: 5 }, true, 'Read'],
  ['unfollowed', { clicks: 1 }, false, 'A link was followed'],
  ['unfollowed', { fileViews: 1 }, false, 'A file was viewed'],
  ['unfollowed', { answers: 1 }, false, 'Answered'],
  ['always', { opens: 1, clicks: 1, fileViews: 1, answers: 1 }, true, ''],
])('“%s” after %j holds: %s', (condition, change, expected, settled) => {
  expect(holds(condition, counts(change))).toBe(expected);
  expect(settledWords(condition, counts(change))).toBe(settled);
});

test('conditions are told in words, and all but one rest on an answer', () => {
  expect((['unanswered', 'unopened', 'unfollowed', 'always'] as const).map(conditionWords)).toEqual([
    'if not answered',
    'if not opened',
    'if no link was followed',
    'in any case',
  ]);
  expect((['unanswered', 'unopened', 'unfollowed', 'always'] as const).map(restsOnAnswer)).toEqual([
    true,
    true,
    true,
    false,
  ]);
});

test('a step goes by what was done with the letter before it, and by an answer to any', () => {
  const letters = [counts({ opens: 4, answers: 1 }), counts({ opens: 1, clicks: 2 }), counts({ answers: 2 })];
  expect(countsOf(letters)).toEqual({ opens: 0, clicks: 0, fileViews: 0, answers: 3 });
  expect(countsOf(letters.slice(0, 2))).toEqual({ opens: 1, clicks: 2, fileViews: 0, answers: 1 });
});
