import fc from 'fast-check';
import type { EventView, TrailEvent, NotificationView } from '@kiraku/core/contract';
import { notificationOf, OPEN_PAUSE_MS } from '@kiraku/core/notifications';
import { HOUR, MINUTE } from '@kiraku/core/time';
import { HEATING_UP_OPENS, COMEBACK_MS } from '@kiraku/core/tracking';
import { eventView } from '../eventView.js';

const START = 1_800_000_000_000;

/** What one recipient does with one message: waits in minutes, and what comes then. */
const activity = fc.array(
  fc.record({
    waitMs: fc.oneof(fc.integer({ min: 1, max: 90 }), fc.integer({ min: 1, max: 40 * 24 * 60 })).map((n) => n * MINUTE),
    kind: fc.constantFrom('opened' as const, 'opened' as const, 'clicked' as const),
    counted: fc.boolean(),
  }),
  { maxLength: 25 },
);

/** Notified one after the other, as they come. */
function notificationsOf(steps: { waitMs: number; kind: 'opened' | 'clicked'; counted: boolean }[]) {
  let at = START;
  const before: TrailEvent[] = [];
  const notifications: (Omit<NotificationView, 'by'> | null)[] = [];
  const events = steps.map(({ waitMs, kind, counted }, eventId): EventView => {
    at += waitMs;
    return eventView({ eventId, at, kind, counted });
  });
  for (const event of events) {
    notifications.push(notificationOf(event, before));
    if (event.counted) before.push({ ...event, label: null });
  }
  return { events, notifications };
}

test('whatever is not counted is not notified, and each counted open is notified or belongs to what was', () => {
  fc.assert(
    fc.property(activity, (steps) => {
      const { events, notifications } = notificationsOf(steps);
      events.forEach((event, index) => expect(notifications[index] === null).toBe(!event.counted));
    }),
  );
});

test('the first open notifies as such exactly once', () => {
  fc.assert(
    fc.property(activity, (steps) => {
      const { events, notifications } = notificationsOf(steps);
      const isOpened = events.some(({ kind, counted }) => kind === 'opened' && counted);
      expect(notifications.filter((notification) => notification?.kind === 'opened_first')).toHaveLength(
        isOpened ? 1 : 0,
      );
    }),
  );
});

test('an open notifies only after a pause, after silence, or when it is one of several within the hour', () => {
  fc.assert(
    fc.property(activity, (steps) => {
      const { events, notifications } = notificationsOf(steps);
      events.forEach((event, index) => {
        if (event.kind !== 'opened' || !event.counted) return;
        const opens = events.slice(0, index).filter(({ kind, counted }) => kind === 'opened' && counted);
        const gapMs = event.at - (opens.at(-1)?.at ?? -Infinity);
        const withinHour = opens.filter(({ at }) => event.at - at < HOUR).length + 1;
        const kind = notifications[index]!.kind;
        if (kind === 'came_back') expect(gapMs).toBeGreaterThanOrEqual(COMEBACK_MS);
        if (kind === 'opened_again') expect(gapMs).toBeGreaterThanOrEqual(OPEN_PAUSE_MS);
        if (kind === 'heating_up') expect(withinHour).toBe(HEATING_UP_OPENS);
        if (kind === null) expect(gapMs).toBeLessThan(OPEN_PAUSE_MS);
      });
    }),
  );
});
