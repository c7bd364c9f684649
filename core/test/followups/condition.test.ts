import { conditionText } from '@kiraku/core/sentences';
import { countsOf, holds, endsWithReply, resolvedText, type Counts } from '@kiraku/core/followups';

const NOTHING: Counts = { opens: 0, clicks: 0, fileViews: 0, replies: 0 };
const counts = (change: Partial<Counts>): Counts => ({ ...NOTHING, ...change });

test.each<
  [condition: Parameters<typeof holds>[0], change: Partial<Counts>, expected: boolean, resolved: string | null]
>([
  ['not-replied', {}, true, null],
  ['not-replied', { opens: 3, clicks: 1, fileViews: 1 }, true, null],
  ['not-replied', { replies: 1 }, false, 'Replied'],
  ['not-opened', {}, true, null],
  ['not-opened', { opens: 1 }, false, 'Read'],
  ['not-opened', { clicks: 1 }, false, 'A link was clicked'],
  ['not-opened', { fileViews: 1 }, false, 'A file was viewed'],
  ['not-opened', { opens: 2, clicks: 1, fileViews: 1 }, false, 'A link was clicked'],
  ['not-opened', { replies: 1, clicks: 1 }, false, 'Replied'],
  ['not-clicked', {}, true, null],
  ['not-clicked', { opens: 5 }, true, null],
  ['not-clicked', { clicks: 1 }, false, 'A link was clicked'],
  ['not-clicked', { fileViews: 1 }, false, 'A file was viewed'],
  ['not-clicked', { replies: 1 }, false, 'Replied'],
  ['always', { opens: 1, clicks: 1, fileViews: 1, replies: 1 }, true, null],
])('“%s” after %j holds: %s', (condition, change, expected, resolved) => {
  expect(holds(condition, counts(change))).toBe(expected);
  if (resolved !== null) expect(resolvedText(counts(change))).toBe(resolved);
});

test('conditions are put in words, and all but one rest on a reply', () => {
  expect((['not-replied', 'not-opened', 'not-clicked', 'always'] as const).map(conditionText)).toEqual([
    'if there is no reply',
    'if not opened',
    'if no link is clicked',
    'in any case',
  ]);
  expect((['not-replied', 'not-opened', 'not-clicked', 'always'] as const).map(endsWithReply)).toEqual([
    true,
    true,
    true,
    false,
  ]);
});

test('a step goes by what was done with the message before it, and by a reply to any', () => {
  const messages = [counts({ opens: 4, replies: 1 }), counts({ opens: 1, clicks: 2 }), counts({ replies: 2 })];
  expect(countsOf(messages)).toEqual({ opens: 0, clicks: 0, fileViews: 0, replies: 3 });
  expect(countsOf(messages.slice(0, 2))).toEqual({ opens: 1, clicks: 2, fileViews: 0, replies: 1 });
});
