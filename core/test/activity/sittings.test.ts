import fc from 'fast-check';
import { filesOfSitting, sittingsByDay, sittingsOf, type Sitting } from '@kiraku/core/activity';
import { EVENT_KINDS, type EventView } from '@kiraku/core/contract';
import { HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import { eventView } from '../eventView.js';

const NOON = Date.UTC(2026, 10, 8, 12);
const HALF_HOUR = 30 * MINUTE;

/** Events in the order given, at these minutes after noon, newest first as the server gives them. */
function history(...parts: (Partial<EventView> & { minute: number })[]): EventView[] {
  return parts
    .map(({ minute, ...part }, index) => eventView({ eventId: index + 1, at: NOON + minute * MINUTE, ...part }))
    .sort((a, b) => b.at - a.at);
}

const idsOf = (sittings: Sitting[]) => sittings.map(({ events }) => events.map(({ eventId }) => eventId));

test('what follows within half an hour belongs to the sitting; what comes later begins another', () => {
  const sittings = sittingsOf(history({ minute: 0 }, { minute: 30 }, { minute: 60 }, { minute: 91 }));
  expect(idsOf(sittings)).toEqual([[4], [3, 2, 1]]);
  expect(sittings[1]).toMatchObject({ id: 1, from: NOON, to: NOON + HOUR });
});

test('two people at once sit at two messages', () => {
  const sittings = sittingsOf(
    history({ minute: 0, copyId: 1 }, { minute: 1, copyId: 2 }, { minute: 2, copyId: 1 }, { minute: 3, copyId: 2 }),
  );
  expect(idsOf(sittings)).toEqual([
    [4, 2],
    [3, 1],
  ]);
});

test('what is not counted stands apart, by its reason', () => {
  const machine = { counted: false, reason: 'scanner' };
  const sittings = sittingsOf(
    history(
      { minute: 0, ...machine },
      { minute: 1 },
      { minute: 2, ...machine },
      { minute: 3, counted: false, reason: 'own' },
    ),
  );
  expect(idsOf(sittings)).toEqual([[4], [3, 1], [2]]);
  expect(sittings.map(({ reason }) => reason)).toEqual(['own', 'scanner', null]);
});

test('what came by mail stands alone, and does not end a sitting', () => {
  const sittings = sittingsOf(
    history({ minute: 0 }, { minute: 1, kind: 'replied' }, { minute: 2, kind: 'replied' }, { minute: 3 }),
  );
  expect(idsOf(sittings)).toEqual([[4, 1], [3], [2]]);
});

test('each event is in one sitting; nobody pauses within one, and everybody pauses between two', () => {
  const events = fc
    .array(
      fc.record({
        minute: fc.integer({ min: 0, max: 600 }),
        copyId: fc.integer({ min: 1, max: 3 }),
        kind: fc.constantFrom(...EVENT_KINDS),
        counted: fc.boolean(),
      }),
      { maxLength: 60 },
    )
    .map((parts) => history(...parts.map((part) => ({ ...part, reason: part.counted ? null : 'scanner' }))));
  fc.assert(
    fc.property(events, fc.nat(60), (all, cut) => {
      const sittings = sittingsOf(all);
      expect(
        idsOf(sittings)
          .flat()
          .sort((a, b) => a - b),
      ).toEqual(all.map(({ eventId }) => eventId).sort((a, b) => a - b));
      const ends = sittings.map(({ to }) => to);
      expect(ends).toEqual([...ends].sort((a, b) => b - a));
      for (const { events: own, from, to, copyId } of sittings) {
        expect([own.at(-1)!.at, own[0]!.at]).toEqual([from, to]);
        expect(own.every((event) => event.copyId === copyId)).toBe(true);
        expect(own.every((event, index) => index === 0 || own[index - 1]!.at - event.at <= HALF_HOUR)).toBe(true);
      }
      // With the next page of a history sittings grow at their old end alone: the ones before stay as they are.
      const first = sittingsOf(all.slice(0, cut));
      first.forEach((sitting, index) =>
        expect(sittings[index]!.events).toEqual(expect.arrayContaining(sitting.events)),
      );
    }),
  );
});

test('days are those of the zone, and end with the sitting', () => {
  const sittings = sittingsOf(history({ minute: 0 }, { minute: 11 * 60 }, { minute: 13 * 60 }));
  const days = (zone: string) => sittingsByDay(sittings, zone).map(({ day, sittings: own }) => [day, own.length]);
  expect(days('UTC')).toEqual([
    ['2026-11-9', 1],
    ['2026-11-8', 2],
  ]);
  expect(days('Asia/Tokyo')).toEqual([
    ['2026-11-9', 2],
    ['2026-11-8', 1],
  ]);
});

test('of each file it is known how many pages were read, for how long, and which was last', () => {
  const page = (minute: number, number: number, sentFileId = 1) => ({
    minute,
    kind: 'page_viewed' as const,
    sentFileId,
    label: `file ${sentFileId}`,
    page: number,
    readMs: number * SECOND,
  });
  const viewed = { minute: 0, kind: 'file_viewed' as const, sentFileId: 1, label: 'file 1' };
  const [sitting] = sittingsOf(history(viewed, page(1, 1), page(2, 2, 2), page(3, 4), page(4, 1), { minute: 5 }));
  expect(filesOfSitting(sitting!)).toEqual([
    { sentFileId: 1, label: 'file 1', pages: 2, readMs: 6 * SECOND, lastPage: 1 },
    { sentFileId: 2, label: 'file 2', pages: 1, readMs: 2 * SECOND, lastPage: 2 },
  ]);
});
