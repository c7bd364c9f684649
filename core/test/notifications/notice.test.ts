import type { EventKind, EventView, Mark, NoticeKind } from '@kiraku/core/contract';
import { noticeOf } from '@kiraku/core/notifications';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';

const NOW = 1_800_000_000_000;

const event = (kind: EventKind, part: Partial<EventView> = {}): EventView => ({
  ...{ eventId: 100, at: NOW, kind, counted: true, label: kind === 'clicked' ? 'price list' : null, reason: null },
  ...{ messageId: 7, messageIdHeader: '<a@b>', subject: 'Panels for the reading room', copyId: 3 },
  ...{
    recipient: { kind: 'to', name: 'Marit Oakes', address: 'marit@lindqvist.example' },
    linkId: null,
    linkUrl: null,
  },
  ...{ ip: null, userAgent: null, device: 'phone', system: null, program: 'Safari', place: null, method: null },
  ...{ incomingId: null, sentFileId: null, page: null, readMs: null },
  ...{
    purpose: null,
    mine: false,
    unwilling: false,
    hosted: false,
    active: false,
    rings: true,
    byHand: null,
    times: 1,
  },
  ...part,
});
const before = (...happened: [kind: EventKind, ageMs: number][]): Mark[] =>
  happened
    .map(([kind, ageMs], eventId) => ({ eventId, at: NOW - ageMs, kind, counted: true, label: null }))
    .sort((a, b) => a.at - b.at);

test.each<[string, EventKind, Mark[], NoticeKind | null, string, string]>([
  ['a first open', 'opened', [], 'opened_first', 'Marit Oakes opened “Panels for the reading room”', 'phone, Safari'],
  [
    'an open that follows at once',
    'opened',
    before(['opened', 4 * MINUTE]),
    null,
    'Marit Oakes opened “Panels for the reading room”',
    'Opened 2 times in 10 minutes',
  ],
  [
    'an open after a pause',
    'opened',
    before(['opened', 31 * MINUTE]),
    'opened_again',
    'Marit Oakes opened “Panels for the reading room”',
    'phone, Safari',
  ],
  [
    'the open that makes it many within the hour',
    'opened',
    before(['opened', 40 * MINUTE], ['opened', 20 * MINUTE]),
    'heating_up',
    'Marit Oakes is busy with “Panels for the reading room”',
    'Opened 3 times within the hour',
  ],
  [
    'one more after that',
    'opened',
    before(['opened', 40 * MINUTE], ['opened', 20 * MINUTE], ['opened', 15 * MINUTE]),
    null,
    'Marit Oakes opened “Panels for the reading room”',
    'phone, Safari',
  ],
  [
    'an open after weeks',
    'opened',
    before(['opened', 21 * DAY], ['clicked', 20 * DAY]),
    'came_back',
    'Marit Oakes came back to “Panels for the reading room”',
    'After 3 weeks of silence',
  ],
  [
    'a link, whatever was before',
    'clicked',
    before(['opened', HOUR]),
    'clicked',
    'Marit Oakes followed “price list” in “Panels for the reading room”',
    'phone, Safari',
  ],
  [
    'several links at once',
    'clicked',
    before(['clicked', MINUTE], ['clicked', 2 * MINUTE], ['clicked', HOUR]),
    'clicked',
    'Marit Oakes followed “price list” in “Panels for the reading room”',
    '3 clicks in 10 minutes',
  ],
])('%s', (_name, kind, earlier, told, title, detail) => {
  const notice = noticeOf(event(kind), earlier);
  expect(notice).toMatchObject({ kind: told, title, detail });
});

test('what was set aside, silenced, or is no news is not told', () => {
  expect(noticeOf(event('opened', { counted: false, reason: 'robot' }), [])).toBeNull();
  expect(noticeOf(event('opened', { rings: false }), [])).toBeNull();
  expect(noticeOf(event('delivered'), [])).toBeNull();
});

test('what belongs together has one tag, and another recipient another', () => {
  const tags = [
    event('opened'),
    event('opened', { eventId: 101 }),
    event('opened', { copyId: 4 }),
    event('clicked'),
  ].map((one) => noticeOf(one, [])!.tag);
  expect(tags[0]).toBe(tags[1]);
  expect(new Set(tags).size).toBe(3);
});
