import { warningsOf, type MemberFacts } from '@kiraku/core/rounds';
import { DAY } from '@kiraku/core/time';

const NOW = Date.UTC(2026, 10, 30);
let next = 0;
const somebody = (facts: Partial<MemberFacts> = {}): MemberFacts => ({
  key: `person${(next += 1)}@cafe.example`,
  personId: null,
  optedOut: false,
  doNotTrack: false,
  bounced: false,
  lastSentAt: null,
  ...facts,
});
const warnings = (...members: MemberFacts[]) => warningsOf(members, NOW, 14);

test.each<[Partial<MemberFacts>, string[]]>([
  [{}, []],
  [{ optedOut: true, doNotTrack: true }, ['opted-out']],
  [{ doNotTrack: true }, ['not-tracked']],
  [{ bounced: true }, ['bounced']],
  [{ lastSentAt: NOW - 13 * DAY }, ['recently']],
  [{ lastSentAt: NOW - 15 * DAY }, []],
  [{ lastSentAt: NOW - DAY, bounced: true, optedOut: true }, ['opted-out', 'bounced', 'recently']],
])('%j is pointed out as %j', (facts, expected) => {
  expect(warnings(somebody(facts))).toEqual([expected]);
});

test('the second of two with one address, or of one person, is pointed out, and not the first', () => {
  const one = somebody({ personId: 7 });
  expect(warnings(one, somebody(), somebody({ key: one.key }), somebody({ personId: 7 }))).toEqual([
    [],
    [],
    ['twice'],
    ['twice'],
  ]);
});
