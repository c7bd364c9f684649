import { handOverOf, providerVerdict, type HandOver } from '@kiraku/core/rounds';

const many = (count: number, kind: HandOver) => new Array<HandOver>(count).fill(kind);

test.each<[string, HandOver[], ReturnType<typeof providerVerdict>]>([
  ['nothing yet', [], { slowedBy: 1, mustWait: false, mustPause: false }],
  ['all taken', many(10, 'accepted'), { slowedBy: 1, mustWait: false, mustPause: false }],
  ['one to be tried later', ['accepted', 'delayed'], { slowedBy: 2, mustWait: false, mustPause: false }],
  ['three to be tried later', many(3, 'delayed'), { slowedBy: 8, mustWait: false, mustPause: false }],
  ['ten to be tried later', many(10, 'delayed'), { slowedBy: 8, mustWait: false, mustPause: false }],
  ['four on their way', many(4, 'waiting'), { slowedBy: 1, mustWait: true, mustPause: false }],
  ['three on their way', many(3, 'waiting'), { slowedBy: 1, mustWait: false, mustPause: false }],
  ['two refused', ['refused', 'refused', 'accepted'], { slowedBy: 1, mustWait: false, mustPause: false }],
  [
    'three of five',
    ['refused', 'accepted', 'refused', 'accepted', 'refused'],
    { slowedBy: 1, mustWait: false, mustPause: true },
  ],
  [
    'three, long ago',
    [...many(5, 'accepted'), ...many(3, 'refused')],
    { slowedBy: 1, mustWait: false, mustPause: false },
  ],
  [
    'three behind those on their way',
    [...many(3, 'waiting'), ...many(3, 'refused')],
    { slowedBy: 1, mustWait: false, mustPause: true },
  ],
])('%s', (_name, newest, verdict) => {
  expect(providerVerdict(newest)).toEqual(verdict);
});

test.each<[Parameters<typeof handOverOf>, HandOver]>([
  [['sent', null], 'accepted'],
  [['failed', null], 'refused'],
  [['queued', 0], 'waiting'],
  [['queued', 1], 'delayed'],
  [['queued', null], 'waiting'],
])('%j is %s', ([state, attempts], kind) => {
  expect(handOverOf(state, attempts)).toBe(kind);
});
