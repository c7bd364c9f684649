import fc from 'fast-check';
import { MINUTE, SECOND } from '@kiraku/core/time';
import {
  advance,
  plausibleVisits,
  FILE_LIMITS,
  IDLE_MS,
  startReading,
  visitsOf,
  type ClockEvent,
  type Medium,
  type ReadingClock,
} from '@kiraku/core/files';

const WINDOW = { visible: true, focused: true };

/** The clock after events at their seconds. */
function after(events: [second: number, clockEvent: ClockEvent][], medium: Medium = 'read', window = WINDOW) {
  return events.reduce<ReadingClock>(
    (clock, [second, clockEvent]) => advance(clock, second * SECOND, clockEvent, medium),
    startReading(0, window),
  );
}

const read = (clock: ReadingClock) => visitsOf(clock).map(({ page, ms }) => [page, ms / SECOND]);
const page = (number: number): ClockEvent => ({ kind: 'page', page: number });
const tick: ClockEvent = { kind: 'tick' };
const activity: ClockEvent = { kind: 'activity' };

describe('a document', () => {
  test('each page is read until it is turned, and one that is come back to is another visit', () => {
    expect(
      read(
        after([
          [4, page(2)],
          [6, page(1)],
          [9, tick],
        ]),
      ),
    ).toEqual([
      [1, 4],
      [2, 2],
      [1, 3],
    ]);
  });

  test('what is passed over is not read, and back from it the same visit goes on', () => {
    const clock = after([
      [4, page(2)],
      [4.2, page(3)],
      [4.4, page(5)],
      [9, tick],
    ]);
    expect(read(clock)).toEqual([
      [1, 4],
      [5, 4.6],
    ]);
    expect(
      read(
        after([
          [4, page(2)],
          [4.2, page(1)],
          [9, tick],
        ]),
      ),
    ).toEqual([[1, 8.8]]);
  });

  test.each<[string, [number, ClockEvent][]]>([
    [
      'hidden',
      [
        [3, { kind: 'visible', is: false }],
        [20, { kind: 'visible', is: true }],
        [22, tick],
      ],
    ],
    [
      'without focus',
      [
        [3, { kind: 'focused', is: false }],
        [20, { kind: 'focused', is: true }],
        [22, tick],
      ],
    ],
  ])('a window that is %s counts nothing', (_name, events) => {
    expect(read(after(events))).toEqual([[1, 5]]);
  });

  test('whoever does nothing for a minute has gone; what they do then brings them back', () => {
    expect(read(after([[300, tick]]))).toEqual([[1, IDLE_MS / SECOND]]);
    expect(
      read(
        after([
          [300, activity],
          [310, tick],
        ]),
      ),
    ).toEqual([[1, IDLE_MS / SECOND + 10]]);
  });

  test('opening it is no sign of somebody; doing something is', () => {
    expect(after([[5, tick]]).active).toBe(false);
    expect(after([[5, activity]]).active).toBe(true);
  });
});

describe('a film', () => {
  const playing = (is: boolean): ClockEvent => ({ kind: 'playing', is });

  test('counts while it plays, without anybody doing anything, also beside another window', () => {
    const clock = after(
      [
        [2, playing(true)],
        [3, { kind: 'focused', is: false }],
        [200, playing(false)],
        [300, tick],
      ],
      'played',
    );
    expect(read(clock)).toEqual([[1, 198]]);
  });

  test('does not count behind another window', () => {
    const clock = after(
      [
        [0, playing(true)],
        [5, { kind: 'visible', is: false }],
        [60, tick],
      ],
      'played',
    );
    expect(read(clock)).toEqual([[1, 5]]);
  });
});

const clockEvent = fc.oneof(
  fc.record({ kind: fc.constant('page' as const), page: fc.integer({ min: 1, max: 6 }) }),
  fc.record({ kind: fc.constantFrom('visible' as const, 'focused' as const, 'playing' as const), is: fc.boolean() }),
  fc.constant(activity),
  fc.constant(tick),
);

test('whatever happens, visits are numbered in order and together no longer than the time that went by', () => {
  const steps = fc.array(fc.tuple(fc.integer({ min: -1000, max: 100_000 }), clockEvent), { maxLength: 60 });
  fc.assert(
    fc.property(steps, fc.constantFrom<Medium>('read', 'played'), (given, medium) => {
      let now = 0;
      let went = 0;
      let clock = startReading(0, WINDOW);
      for (const [ms, what] of given) {
        now += ms;
        went = Math.max(went, now);
        clock = advance(clock, now, what, medium);
      }
      const visits = clock.visits;
      expect(visits.map(({ visit }) => visit)).toEqual(visits.map((_, index) => index + 1));
      expect(visits.reduce((sum, { ms }) => sum + ms, 0)).toBeLessThanOrEqual(went);
    }),
  );
});

describe('what a window says', () => {
  const visit = fc.record({
    visit: fc.integer({ min: -1, max: 8 }),
    page: fc.integer({ min: -1, max: 8 }),
    ms: fc.oneof(fc.integer({ min: -5, max: 60_000 }), fc.constantFrom(NaN, Infinity, 1e300)),
  });

  test('is accepted no further than there was time for, and saying it again changes nothing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(visit, { maxLength: 8 }), { maxLength: 6 }),
        fc.integer({ min: 0, max: 200_000 }),
        (reports, sinceMs) => {
          const known = new Map<number, { visit: number; page: number; ms: number }>();
          for (const report of reports)
            for (const one of plausibleVisits(report, [...known.values()], sinceMs, 5)) {
              expect(one.ms).toBeGreaterThan(known.get(one.visit)?.ms ?? 0);
              expect(known.get(one.visit)?.page ?? one.page).toBe(one.page);
              expect(one.page).toBeLessThanOrEqual(5);
              known.set(one.visit, one);
            }
          const all = [...known.values()];
          expect(all.reduce((sum, { ms }) => sum + ms, 0)).toBeLessThanOrEqual(sinceMs + SECOND);
          expect(plausibleVisits(all, all, sinceMs, 5)).toEqual([]);
        },
      ),
    );
  });

  test('what honest windows say is accepted to the millisecond, though every second report is lost', () => {
    const steps = fc.array(fc.tuple(fc.integer({ min: 0, max: 20_000 }), clockEvent), { maxLength: 40 });
    fc.assert(
      fc.property(steps, (given) => {
        let now = 0;
        let clock = startReading(0, WINDOW);
        const known = new Map<number, { visit: number; page: number; ms: number }>();
        const tell = () => {
          for (const one of plausibleVisits(visitsOf(clock), [...known.values()], now, null)) known.set(one.visit, one);
        };
        given.forEach(([ms, what], index) => {
          now += ms;
          clock = advance(clock, now, what, 'read');
          if (index % 2 === 0) tell();
        });
        tell();
        expect([...known.values()].sort((a, b) => a.visit - b.visit)).toEqual(visitsOf(clock));
      }),
    );
  });

  test('a visit has its longest', () => {
    expect(plausibleVisits([{ visit: 1, page: 1, ms: FILE_LIMITS.maxVisitMs + 1 }], [], 600 * MINUTE, null)).toEqual(
      [],
    );
  });
});
