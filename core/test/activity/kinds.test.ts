import { kindsOf, isOf, PROOF_COUNTS, wasRead } from '@kiraku/core/activity';
import { EVENT_KINDS } from '@kiraku/core/contract';
import { addToTally, EMPTY_TALLY } from '@kiraku/core/tracking';

test('the sets of kinds are those of the trade', () => {
  expect(kindsOf('hit')).toEqual(['opened', 'clicked', 'file_viewed', 'downloaded']);
  expect(kindsOf('activity')).toEqual(['opened', 'clicked', 'file_viewed', 'page_viewed', 'downloaded']);
  expect(kindsOf('hours')).toEqual(['opened', 'clicked', 'file_viewed']);
  expect(kindsOf('proof')).toEqual(['opened', 'clicked', 'file_viewed', 'replied']);
  expect(kindsOf('mail')).toEqual(['delivered', 'bounced', 'replied', 'receipt']);
  expect(EVENT_KINDS.filter((kind) => !isOf('trail', kind))).toEqual(['page_viewed']);
});

test('a message was read where a counted event proves it, and not before', () => {
  for (const kind of EVENT_KINDS) {
    const counted = addToTally(EMPTY_TALLY, { kind, at: 1, counted: true });
    const notCounted = addToTally(EMPTY_TALLY, { kind, at: 1, counted: false });
    expect([kind, wasRead(counted), wasRead(notCounted)]).toEqual([kind, isOf('proof', kind), false]);
  }
  expect(wasRead(EMPTY_TALLY)).toBe(false);
  expect(PROOF_COUNTS).toHaveLength(4);
});
