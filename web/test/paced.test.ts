import { jest } from '@jest/globals';
import fc from 'fast-check';
import type { LiveUpdate } from '@kiraku/core/contract';
import { paced } from '../src/app/paced.js';
import { liveUpdate as update } from './liveUpdate.js';

let told: LiveUpdate[];
let pace: ReturnType<typeof paced>;
beforeEach(() => {
  jest.useFakeTimers();
  told = [];
  pace = paced((one) => told.push(one));
});
afterEach(() => {
  pace.close();
  jest.useRealTimers();
});

test('what comes alone is told at once', () => {
  pace.take(update({ gap: true }));
  jest.advanceTimersByTime(200);
  pace.take(update({ isReminded: true }));
  expect(told).toEqual([update({ gap: true }), update({ isReminded: true })]);
});

test('what comes until the next frame is told then, each as it came', () => {
  const updates = [1, 2, 3].map((id) => update({ events: [{ eventId: id }] }));
  for (const one of updates) pace.take(one);
  expect(told).toEqual(updates.slice(0, 1));
  jest.advanceTimersByTime(20);
  expect(told).toEqual(updates);
  pace.take(update({ gap: true }));
  expect(told).toHaveLength(3);
});

test('a window that is not painted is told nevertheless', () => {
  jest.spyOn(globalThis, 'requestAnimationFrame').mockReturnValue(1);
  pace.take(update({}));
  pace.take(update({ gap: true }));
  expect(told).toHaveLength(1);
  jest.advanceTimersByTime(100);
  expect(told[1]).toEqual(update({ gap: true }));
  jest.restoreAllMocks();
});

test('once closed, what waited is told, and nothing any more', () => {
  pace.take(update({}));
  pace.take(update({ gap: true }));
  pace.close();
  expect(told).toEqual([update({}), update({ gap: true })]);
  jest.advanceTimersByTime(1000);
  expect(told).toHaveLength(2);
});

test('whatever comes when, all of it is told, in its order', () => {
  const steps = fc.array(fc.record({ eventId: fc.nat(), waitMs: fc.nat(30) }), { maxLength: 40 });
  fc.assert(
    fc.property(steps, (all) => {
      told = [];
      for (const { eventId, waitMs } of all) {
        pace.take(update({ events: [{ eventId }] }));
        jest.advanceTimersByTime(waitMs);
      }
      jest.advanceTimersByTime(200);
      expect(told.flatMap(({ events }) => events)).toEqual(all.map(({ eventId }) => ({ eventId })));
    }),
  );
});
