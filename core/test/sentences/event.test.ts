import { deviceText, eventLine, eventLinesText, eventText, lastHourText, markText } from '@kiraku/core/sentences';
import type { EventKind, EventView } from '@kiraku/core/contract';
import { markShape, TRAIL_STEPS, trailPosition } from '@kiraku/core/tracking';
import { clockWords, DAY, exactWords, HOUR, MINUTE, SECOND, WEEK } from '@kiraku/core/time';

test.each<[kind: EventKind, bare: string, named: string]>([
  ['delivered', 'Delivered', 'x'],
  ['bounced', 'Could not be delivered', 'Could not be delivered. x'],
  ['opened', 'Opened the message', 'Opened the message'],
  ['clicked', 'Clicked a link', 'Clicked “x”'],
  ['file_viewed', 'Opened a file', 'Opened “x”'],
  ['page_viewed', 'Read a page of a file', 'Read a page of “x”'],
  ['downloaded', 'Downloaded a file', 'Downloaded “x”'],
  ['replied', 'Replied', 'Replied: “x”'],
  ['receipt', 'Receipt received', 'x'],
  ['opted_out', 'Opted out of tracking', 'Opted out of tracking'],
])('%s is said as “%s”, and as “%s”', (kind, bare, named) => {
  expect(eventText({ kind, label: null })).toBe(bare);
  expect(eventText({ kind, label: 'x' })).toBe(named);
});

test('a page is said with its number, and for how long it was read', () => {
  const page = { kind: 'page_viewed' as const, label: 'Plan.pdf', page: 3, readMs: 40 * SECOND };
  expect(eventText(page)).toBe('Read page 3 of “Plan.pdf” for 40 seconds');
  expect(eventText({ ...page, readMs: 0 })).toBe('Read page 3 of “Plan.pdf”');
});

test('of a device as much is said as is known', () => {
  expect(deviceText({ device: 'phone', program: 'Safari', system: 'iOS' })).toBe('phone, Safari, iOS');
  expect(deviceText({ device: null, program: 'Safari', system: null })).toBe('Safari');
  expect(deviceText({ device: null, program: null, system: null })).toBe('');
});

test('the axis of the trail goes from a month to now, in equal steps', () => {
  expect(TRAIL_STEPS).toEqual([
    { label: '1 month', ageMs: 30 * DAY },
    { label: '1 week', ageMs: WEEK },
    { label: '1 day', ageMs: DAY },
    { label: '1 hour', ageMs: HOUR },
    { label: '10 min', ageMs: 10 * MINUTE },
    { label: 'now', ageMs: 0 },
  ]);
  const places = TRAIL_STEPS.map(({ ageMs }) => trailPosition(ageMs));
  places.forEach((place, index) => expect(place).toBeCloseTo((0.5 + index) / 5.5, 10));
  expect([trailPosition(365 * DAY), trailPosition(1000 * DAY), trailPosition(-1)]).toEqual([0, 0, 1]);
  expect(trailPosition((WEEK + DAY) / 2)).toBeCloseTo(2 / 5.5, 10);
});

test.each<[kind: EventKind, shape: string]>([
  ['delivered', 'dot'],
  ['receipt', 'dot'],
  ['opened', 'stroke'],
  ['clicked', 'diamond'],
  ['page_viewed', 'square'],
  ['file_viewed', 'square'],
  ['downloaded', 'square'],
  ['opted_out', 'cross'],
  ['bounced', 'cross'],
  ['replied', 'arrow'],
])('%s is drawn as a %s, and as a ring where it does not count', (kind, shape) => {
  expect(markShape({ kind, counted: true })).toBe(shape);
  expect(markShape({ kind, counted: false })).toBe('ring');
});

const OPENED = {
  kind: 'opened',
  at: Date.UTC(2026, 10, 23, 12),
  recipient: { kind: 'to', name: 'Marit Oakes', address: 'marit@lindqvist.example' },
  subject: 'Panels for the reading room',
  label: null,
  counted: true,
} as EventView;

test('a line of the last hour says when, who, what, and whether it is counted', () => {
  const line = `${clockWords(OPENED.at)} Marit Oakes opened “Panels for the reading room”`;
  expect(eventLine(OPENED)).toBe(line);
  expect(eventLine({ ...OPENED, counted: false })).toBe(`${line} (not counted)`);
});

test('several events that are one mark say how many they are', () => {
  expect(eventLinesText(1, ['a'])).toBe('a');
  expect(eventLinesText(12, ['a', 'b'])).toBe('12 events: a; b');
  const one = `Opened the message, ${exactWords(OPENED.at)}`;
  expect(markText(OPENED, 1)).toBe(one);
  expect(markText(OPENED, 3)).toBe(`3 events, the last: ${one}`);
});

test.each([
  [0, 'nothing yet'],
  [1, '1 event'],
  [500, '500 events'],
])('%d events in the last hour', (count, text) => {
  expect(lastHourText(count)).toBe(text);
});
