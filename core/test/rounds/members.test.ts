import fc from 'fast-check';
import type { MessageState, RoundMember } from '@kiraku/core/contract';
import {
  DEFAULT_MEMBERS_VIEW,
  isOf,
  MEMBER_ORDERS,
  MEMBERS_SHOWN,
  membersEntriesOf,
  membersViewFrom,
  shownMembers,
} from '@kiraku/core/rounds';
import { memberStatus } from '@kiraku/core/sentences';
import { EMPTY_TALLY } from '@kiraku/core/tracking';
import { messageSummary as summary } from '../messageSummary.js';

const members: fc.Arbitrary<RoundMember> = fc
  .record({
    state: fc.constantFrom<MessageState[]>('draft', 'scheduled', 'queued', 'sent', 'sent', 'sent', 'failed'),
    leftOut: fc.boolean(),
    wording: fc.nat(2),
    isRest: fc.boolean(),
    opens: fc.nat(2),
    clicks: fc.nat(1),
    replies: fc.nat(1),
    lastActivityAt: fc.nat(5),
  })
  .map(({ state, leftOut, wording, isRest, lastActivityAt, ...counts }) => ({
    ...{ messageId: 1, recipient: { name: 'A', address: 'a@x.example' }, company: '', personId: 1 },
    ...{ wording, isRest, edited: false, leftOut, warnings: [], unfilled: [], state, sendAt: null },
    summary:
      state === 'draft'
        ? null
        : summary({ state, lastActivityAt, tally: { ...EMPTY_TALLY, ...(state === 'sent' && counts) } }),
  }));

test('everybody of a round stands in exactly one way, and is said to', () => {
  fc.assert(
    fc.property(members, (member) => {
      expect(Object.values(isOf).filter((test) => test(member))).toHaveLength(1);
      expect(memberStatus(member, 10).text).not.toBe('');
    }),
  );
});

test('whatever is shown, it is a part of all, and each wording with the rest makes the whole', () => {
  fc.assert(
    fc.property(
      fc.array(members, { maxLength: 12 }),
      fc.constantFrom(...MEMBERS_SHOWN),
      fc.constantFrom(...MEMBER_ORDERS),
      (all, show, order) => {
        const shown = shownMembers(all, { show, wording: null, order });
        const parts = ([0, 1, 2, 'rest'] as const).flatMap((wording) => shownMembers(all, { show, wording, order }));
        expect(new Set(parts)).toEqual(new Set(shown));
        expect(parts).toHaveLength(shown.length);
        if (show === 'all') expect(new Set(shown)).toEqual(new Set(all));
      },
    ),
  );
});

test('who clicked and did not reply comes before who only opened it, and that before who shows no sign', () => {
  const of = (counts: Partial<typeof EMPTY_TALLY>, lastActivityAt = 1): RoundMember => ({
    ...{ messageId: lastActivityAt, recipient: { name: '', address: '' }, company: '', personId: null },
    ...{ wording: 0, isRest: false, edited: false, leftOut: false, warnings: [], unfilled: [], sendAt: null },
    state: 'sent',
    summary: summary({ state: 'sent', lastActivityAt, tally: { ...EMPTY_TALLY, ...counts } }),
  });
  const all = [
    of({}, 1),
    of({ opens: 2 }, 2),
    of({ opens: 1 }, 3),
    of({ clicks: 1 }, 4),
    of({ replies: 1, clicks: 1 }, 5),
  ];
  expect(shownMembers(all, DEFAULT_MEMBERS_VIEW).map(({ messageId }) => messageId)).toEqual([4, 3, 2, 5, 1]);
});

test('a view survives the way through an address, and whatever an address says is some view', () => {
  const views = fc.record({
    show: fc.constantFrom(...MEMBERS_SHOWN),
    wording: fc.constantFrom(null, 0, 1, 2, 'rest' as const),
    order: fc.constantFrom(...MEMBER_ORDERS),
  });
  fc.assert(
    fc.property(views, (view) => expect(membersViewFrom(new URLSearchParams(membersEntriesOf(view)))).toEqual(view)),
  );
  expect(membersViewFrom(new URLSearchParams('show=nobody&wording=x&order='))).toEqual(DEFAULT_MEMBERS_VIEW);
});
