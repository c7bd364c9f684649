import type { EventKind, EventView, TrailEvent, NotificationKind } from '@kiraku/core/contract';
import { notificationOf, notificationOfReminder, type DueReminder } from '@kiraku/core/notifications';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { eventView } from '../eventView.js';

const NOW = 1_800_000_000_000;

const event = (kind: EventKind, part: Partial<EventView> = {}): EventView =>
  eventView({ eventId: 100, at: NOW, kind, label: kind === 'clicked' ? 'price list' : null, ...part });
const before = (...happened: [kind: EventKind, ageMs: number][]): TrailEvent[] =>
  happened
    .map(([kind, ageMs], eventId) => ({ eventId, at: NOW - ageMs, kind, counted: true, label: null }))
    .sort((a, b) => a.at - b.at);

test.each<[string, EventKind, TrailEvent[], NotificationKind | null, string, string]>([
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
    'Marit Oakes keeps opening “Panels for the reading room”',
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
    'After 3 weeks without activity',
  ],
  [
    'a link, whatever was before',
    'clicked',
    before(['opened', HOUR]),
    'clicked',
    'Marit Oakes clicked “price list” in “Panels for the reading room”',
    'phone, Safari',
  ],
  [
    'several links at once',
    'clicked',
    before(['clicked', MINUTE], ['clicked', 2 * MINUTE], ['clicked', HOUR]),
    'clicked',
    'Marit Oakes clicked “price list” in “Panels for the reading room”',
    '3 clicks in 10 minutes',
  ],
])('%s', (_name, kind, earlier, notifiedAs, title, detail) => {
  const notification = notificationOf(event(kind), earlier);
  expect(notification).toMatchObject({ kind: notifiedAs, title, detail });
});

test('what was not counted, muted, or is no news is not notified', () => {
  expect(notificationOf(event('opened', { counted: false, reason: 'robot' }), [])).toBeNull();
  expect(notificationOf(event('opened', { notifies: false }), [])).toBeNull();
  expect(notificationOf(event('delivered'), [])).toBeNull();
});

test('what belongs together has one tag, and another recipient another', () => {
  const tags = [
    event('opened'),
    event('opened', { eventId: 101 }),
    event('opened', { copyId: 4 }),
    event('clicked'),
  ].map((one) => notificationOf(one, [])!.tag);
  expect(tags[0]).toBe(tags[1]);
  expect(new Set(tags).size).toBe(3);
});

test.each<[kind: EventKind, part: Partial<EventView>, notifiedAs: NotificationKind, title: string, detail: string]>([
  ['file_viewed', { label: 'Plan.pdf' }, 'file_viewed', 'Marit Oakes is reading “Plan.pdf” from', 'phone, Safari'],
  ['file_viewed', {}, 'file_viewed', 'Marit Oakes is reading a file from', 'phone, Safari'],
  ['clicked', { label: null }, 'clicked', 'Marit Oakes clicked a link in', 'phone, Safari'],
  ['replied', { label: 'Yes.' }, 'replied', 'Marit Oakes replied to', 'Yes.'],
  ['replied', {}, 'replied', 'Marit Oakes replied to', ''],
  ['bounced', {}, 'bounced', 'Marit Oakes did not get', 'phone, Safari'],
  ['opted_out', {}, 'opted_out', 'Marit Oakes opted out of tracking after', 'phone, Safari'],
])('%s, %j is notifiedAs as %s', (kind, part, notifiedAs, title, detail) => {
  expect(notificationOf(event(kind, part), [])).toEqual({
    eventId: 100,
    at: NOW,
    path: '/sent/7',
    tag: `3 ${kind}`,
    kind: notifiedAs,
    detail,
    title: `${title} “Panels for the reading room”`,
  });
});

test('whoever has no name is named by address, and a message without subject by that', () => {
  const nameless = { recipient: { kind: 'to' as const, name: '', address: 'otis@saltmarsh.example' }, subject: '' };
  expect(notificationOf(event('opened', nameless), [])!.title).toBe(
    'otis@saltmarsh.example opened “a message without subject”',
  );
});

test.each<[agesMs: number[], notifiedAs: NotificationKind | null]>([
  [[30 * MINUTE], 'opened_again'],
  [[30 * MINUTE - 1], null],
  [[HOUR + 1, 20 * MINUTE], null],
  [[59 * MINUTE, 20 * MINUTE], 'heating_up'],
])('an open after opens %j ms ago is notifiedAs as %s', (agesMs, notifiedAs) => {
  expect(
    notificationOf(event('opened'), before(...agesMs.map((age): [EventKind, number] => ['opened', age])))!.kind,
  ).toBe(notifiedAs);
});

test('a burst is summed up from two on, with what lies within ten minutes', () => {
  const detail = (kind: EventKind, ...agesMs: number[]) =>
    notificationOf(event(kind), before(...agesMs.map((age): [EventKind, number] => [kind, age])))!.detail;
  expect(detail('opened', HOUR + 1, 5 * MINUTE)).toBe('Opened 2 times in 10 minutes');
  expect(detail('opened', 10 * MINUTE + 1)).toBe('phone, Safari');
  expect(detail('clicked', 9 * MINUTE)).toBe('2 clicks in 10 minutes');
  expect(detail('clicked', 11 * MINUTE)).toBe('phone, Safari');
  expect(detail('file_viewed', MINUTE)).toBe('phone, Safari');
});

describe('a reminder says', () => {
  const MARIT = { name: 'Marit Oakes', address: 'marit@lindqvist.example' };
  const notifiedAs = (part: Partial<DueReminder>) =>
    notificationOfReminder({
      id: 5,
      dueAt: NOW,
      condition: 'not-replied',
      note: '',
      messageId: 7,
      subject: 'Panels',
      person: MARIT,
      ...part,
    });
  test.each<[part: Partial<DueReminder>, title: string, detail: string]>([
    [{}, 'Marit Oakes: “Panels”, no reply yet', ''],
    [{ condition: 'not-opened' }, 'Marit Oakes: “Panels”, not opened yet', ''],
    [{ condition: 'not-clicked' }, 'Marit Oakes: “Panels”, no link clicked yet', ''],
    [{ condition: 'always', note: 'Call her' }, 'Marit Oakes: “Panels”, your reminder', 'Call her'],
    [{ person: null }, '“Panels”, no reply yet', ''],
    [{ subject: null, messageId: null }, 'Get in touch with Marit Oakes', ''],
    [{ subject: null, messageId: null, note: 'Call her' }, 'Call her', 'Marit Oakes'],
  ])('%j', (part, title, detail) => {
    expect(notifiedAs(part)).toEqual({
      eventId: 0,
      at: NOW,
      tag: 'reminder 5',
      kind: 'reminder_due',
      title,
      detail,
      path: part.messageId === null ? '/followups' : '/sent/7',
    });
  });
});
