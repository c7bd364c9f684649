import type { ChartEvent, CopyView, MessageSummary } from '@kiraku/core/contract';
import { lanesByMessage, lanesByReader } from '../src/message/lanes.js';

const event = (part: Partial<ChartEvent>): ChartEvent =>
  ({
    kind: 'opened',
    at: 0,
    counted: true,
    copyId: 1,
    messageId: 1,
    device: null,
    program: null,
    system: null,
    ...part,
  }) as ChartEvent;
const copy = (id: number, name: string) =>
  ({ id, recipient: { kind: 'to', name, address: 'a@b.example' } }) as CopyView;
const labels = (lanes: { label: string; trailEvents: unknown[] }[]) =>
  lanes.map(({ label, trailEvents }) => [label, trailEvents.length]);

test('of one recipient each device has a line, and what comes by mail another', () => {
  const events = [
    event({ device: 'phone', program: 'Safari' }),
    event({ device: 'phone', program: 'Safari' }),
    event({ device: 'computer' }),
    event({}),
    event({ kind: 'replied' }),
  ];
  expect(labels(lanesByReader(events, [copy(1, 'Marit Oakes')]))).toEqual([
    ['phone, Safari', 2],
    ['computer', 1],
    ['unknown device', 1],
    ['by mail', 1],
  ]);
});

test('of several recipients each has a line', () => {
  const events = [event({ copyId: 1 }), event({ copyId: 2 }), event({ copyId: 1, device: 'phone' })];
  expect(labels(lanesByReader(events, [copy(1, 'Marit Oakes'), copy(2, 'Jun Falk')]))).toEqual([
    ['Marit Oakes', 2],
    ['Jun Falk', 1],
  ]);
});

test('of a conversation each message has a line', () => {
  const messages = [1, 2].map((id) => ({ id, subject: `No. ${id}`, sentAt: 0, queuedAt: 0 })) as MessageSummary[];
  const lanes = lanesByMessage([event({ messageId: 2 }), event({ messageId: 1 })], messages, 0);
  expect(lanes.map(({ label }) => label.slice(0, 5))).toEqual(['No. 2', 'No. 1']);
});

test('of very many, the busiest have a line of their own, and the rest share the last: nothing is lost', () => {
  const copies = Array.from({ length: 40 }, (_, id) => copy(id, `P${id}`));
  // The later ones are busier.
  const events = copies.flatMap(({ id }) => Array.from({ length: id + 1 }, () => event({ copyId: id })));
  const lanes = lanesByReader(events, copies);
  expect(lanes.map(({ label }) => label)).toEqual(['P39', 'P38', 'P37', 'P36', 'P35', 'P34', 'P33', '33 others']);
  expect(lanes.reduce((sum, { trailEvents }) => sum + trailEvents.length, 0)).toBe(events.length);
});

test('where nothing happened there is one empty line', () => {
  expect(labels(lanesByReader([], [copy(1, 'Marit Oakes')]))).toEqual([['', 0]]);
});
