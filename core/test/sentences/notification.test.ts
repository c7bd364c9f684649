import type { EventKind, EventView, PassedOn, TrailEvent } from '@kiraku/core/contract';
import { EVENT_KINDS } from '@kiraku/core/contract';
import {
  burstText,
  busyText,
  comebackNotification,
  comebackText,
  heatingUpNotification,
  heatingUpText,
  manyNotifications,
  notificationsEmail,
  noReplySinceText,
  openedText,
  passedOnText,
  replyNotification,
} from '@kiraku/core/sentences';
import { DAY, exactWords, WEEK } from '@kiraku/core/time';

const event = (part: Partial<EventView> = {}) =>
  ({
    kind: 'opened',
    recipient: { kind: 'to', name: 'Marit Oakes', address: 'marit@lindqvist.example' },
    subject: 'Panels',
    label: null,
    ...part,
  }) as EventView;

test('a notification names who, of what, and since when', () => {
  expect(comebackNotification(event(), 3 * WEEK)).toEqual([
    'Marit Oakes came back to “Panels”',
    'After 3 weeks without activity',
  ]);
  expect(heatingUpNotification(event(), 4)).toEqual([
    'Marit Oakes keeps opening “Panels”',
    'Opened 4 times within the hour',
  ]);
  expect(replyNotification(event({ label: 'Thank you, we take it' }))).toEqual([
    'Marit Oakes replied to “Panels”',
    'Thank you, we take it',
  ]);
  expect(replyNotification(event({ subject: '' }))).toEqual(['Marit Oakes replied to “a message without subject”', '']);
});

test('many at once are one notification that names the first', () => {
  expect(manyNotifications(12, ['a', 'b'])).toEqual(['12 events at once', 'a; b …']);
});

test.each<[kind: EventKind, count: number, text: string | null]>([
  ['opened', 1, null],
  ['opened', 3, 'Opened 3 times in 10 minutes'],
  ['clicked', 2, '2 clicks in 10 minutes'],
  ['clicked', 1, null],
  ['downloaded', 4, null],
])('%s, %d times', (kind, count, text) => {
  expect(burstText(kind, count)).toBe(text);
});

const trailEvent = (part: Partial<TrailEvent>) => ({ kind: 'opened', label: null, ...part }) as TrailEvent;

test.each<[part: Partial<TrailEvent>, text: string]>([
  [{}, 'Reading it right now'],
  [{ kind: 'file_viewed', label: 'Plan.pdf' }, 'Is reading “Plan.pdf”'],
  [{ kind: 'file_viewed' }, 'Reading it right now'],
  [{ kind: 'page_viewed', label: 'Plan.pdf', page: 3 }, 'Is on page 3 of “Plan.pdf”'],
  [{ kind: 'page_viewed', label: 'Plan.pdf' }, 'Reading it right now'],
  [{ kind: 'file_viewed', label: 'תוכנית' }, 'Is reading “\u2068תוכנית\u2069”'],
])('what happens this moment: %j', (part, text) => {
  expect(busyText(trailEvent(part))).toBe(text);
});

test('whatever happens, what is said of it names no emptiness', () => {
  for (const kind of EVENT_KINDS) expect(busyText(trailEvent({ kind }))).not.toMatch(/null|undefined|“”/);
});

test('why somebody is proposed', () => {
  expect(heatingUpText(4)).toBe('Opened 4 times within an hour');
  expect(comebackText(3 * WEEK)).toBe('Came back after 3 weeks without activity');
  expect(noReplySinceText('clicked', 'price list', 'a link')).toBe('Clicked “price list”, and no reply since');
  expect(noReplySinceText('viewed', null, 'a file')).toBe('Viewed a file, and no reply since');
  expect(passedOnText({ certainty: 'likely', reason: 'another phone' } as PassedOn)).toBe(
    'Likely passed on: another phone',
  );
  expect(openedText(1, null)).toBe('Opened once, and no reply yet');
  expect(openedText(3, 5 * DAY)).toBe('Opened 3 times, and no reply for 5 days');
});

test.each([
  [1, 'Marit opened 0', 1, false],
  [2, 'Marit opened 0, and 1 event more', 2, false],
  [30, 'Marit opened 0, and 29 events more', 30, false],
  [300, 'Marit opened 0, and 299 events more', 30, true],
])('an email of %d events', (count, subject, named, isCut) => {
  const at = Date.UTC(2026, 10, 23, 12);
  const all = Array.from({ length: count }, (_, n) => ({
    title: `Marit opened ${n}`,
    detail: 'phone',
    at,
    path: '/sent/7',
  }));
  const email = notificationsEmail(all, 'https://desk.example', 'UTC');
  expect(email.subject).toBe(subject);
  expect(email.text).toContain(`Marit opened 0\n${exactWords(at, 'UTC')}. phone\nhttps://desk.example/sent/7\n`);
  expect(email.text.match(/^Marit opened \d+$/gm)).toHaveLength(named);
  expect(email.text.includes('And 270 more: https://desk.example/sent')).toBe(isCut);
});
