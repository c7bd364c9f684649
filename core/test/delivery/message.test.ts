import type { CopyState, MessageState } from '@kiraku/core/contract';
import { MESSAGE_MOVES, messageDelivery, sendTimeProblem } from '@kiraku/core/delivery';
import { DAY, MINUTE } from '@kiraku/core/time';
import fc from 'fast-check';

const copy = (state: CopyState, sentAt: number | null = null) => ({ state, sentAt });

test.each<[string, ReturnType<typeof copy>[], string, number | null]>([
  ['one waits', [copy('queued'), copy('sent', 7), copy('failed')], 'queued', 7],
  ['none has left', [copy('failed'), copy('failed')], 'failed', null],
  ['some have left, and others failed', [copy('failed'), copy('sent', 9), copy('sent', 4)], 'sent', 4],
  ['all were sent back', [copy('failed', 5)], 'failed', null],
])('a message of which %s', (_name, copies, state, sentAt) => {
  expect(messageDelivery(copies)).toEqual({ state, sentAt });
});

test('the order of the copies says nothing', () => {
  const copies = fc.array(
    fc.record({
      state: fc.constantFrom<CopyState>('queued', 'sent', 'failed'),
      sentAt: fc.option(fc.nat(), { nil: null }),
    }),
    { minLength: 1 },
  );
  fc.assert(
    fc.property(copies, (all) => {
      expect(messageDelivery([...all].reverse())).toEqual(messageDelivery(all));
      expect(messageDelivery([...all, ...all])).toEqual(messageDelivery(all));
    }),
  );
});

test('what has left can neither be recalled nor leave again', () => {
  const left: MessageState[] = ['queued', 'sent', 'failed'];
  expect(Object.values(MESSAGE_MOVES).filter(({ from }) => left.includes(from))).toEqual([]);
});

test('a time is good from now to a year', () => {
  const now = 1000 * DAY;
  const good = [now - MINUTE, now, now + 366 * DAY];
  const bad = [now - MINUTE - 1, now + 366 * DAY + 1];
  expect(good.map((at) => sendTimeProblem(at, now))).toEqual([null, null, null]);
  expect(bad.map((at) => sendTimeProblem(at, now) !== null)).toEqual([true, true]);
});
