import fc from 'fast-check';
import type { EventView, Mark, Notice } from '@kiraku/core/contract';
import { noticeOf, PAUSE_MS } from '@kiraku/core/notifications';
import { HOUR, MINUTE } from '@kiraku/core/time';
import { HEATING_OPENS, SILENCE_MS } from '@kiraku/core/tracking';

const START = 1_800_000_000_000;

/** What one recipient does with one letter: waits in minutes, and what comes then. */
const doings = fc.array(
  fc.record({
    waitMs: fc.oneof(fc.integer({ min: 1, max: 90 }), fc.integer({ min: 1, max: 40 * 24 * 60 })).map((n) => n * MINUTE),
    kind: fc.constantFrom('opened' as const, 'opened' as const, 'clicked' as const),
    counted: fc.boolean(),
  }),
  { maxLength: 25 },
);

/** Told one after the other, as they come. */
function told(steps: { waitMs: number; kind: 'opened' | 'clicked'; counted: boolean }[]) {
  let at = START;
  const before: Mark[] = [];
  const notices: (Omit<Notice, 'by'> | null)[] = [];
  const events = steps.map(({ waitMs, kind, counted }, eventId): EventView => {
    at += waitMs;
    return { ...SOMEBODY, eventId, at, kind, counted };
  });
  for (const event of events) {
    notices.push(noticeOf(event, before));
    if (event.counted) before.push({ ...event, label: null });
  }
  return { events, notices };
}

const SOMEBODY: EventView = {
  ...({ eventId: 0, at: 0, kind: 'opened', counted: true, label: null, reason: null } as const),
  ...{ messageId: 7, messageIdHeader: '<a@b>', subject: 'Panels', copyId: 3, linkId: null, linkUrl: null },
  recipient: { kind: 'to', name: 'Marit Oakes', address: 'marit@lindqvist.example' },
  ...{ ip: null, userAgent: null, device: null, system: null, program: null, place: null, method: null },
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
};

test('whatever is set aside is not told, and each counted look is told or belongs to what was', () => {
  fc.assert(
    fc.property(doings, (steps) => {
      const { events, notices } = told(steps);
      events.forEach((event, index) => expect(notices[index] === null).toBe(!event.counted));
    }),
  );
});

test('the first open is told as such exactly once', () => {
  fc.assert(
    fc.property(doings, (steps) => {
      const { events, notices } = told(steps);
      const isOpened = events.some(({ kind, counted }) => kind === 'opened' && counted);
      expect(notices.filter((notice) => notice?.kind === 'opened_first')).toHaveLength(isOpened ? 1 : 0);
    }),
  );
});

test('an open rings only after a pause, after silence, or when it is one of several within the hour', () => {
  fc.assert(
    fc.property(doings, (steps) => {
      const { events, notices } = told(steps);
      events.forEach((event, index) => {
        if (event.kind !== 'opened' || !event.counted) return;
        const opens = events.slice(0, index).filter(({ kind, counted }) => kind === 'opened' && counted);
        const gapMs = event.at - (opens.at(-1)?.at ?? -Infinity);
        const withinHour = opens.filter(({ at }) => event.at - at < HOUR).length + 1;
        const kind = notices[index]!.kind;
        if (kind === 'came_back') expect(gapMs).toBeGreaterThanOrEqual(SILENCE_MS);
        if (kind === 'opened_again') expect(gapMs).toBeGreaterThanOrEqual(PAUSE_MS);
        if (kind === 'heating_up') expect(withinHour).toBe(HEATING_OPENS);
        if (kind === null) expect(gapMs).toBeLessThan(PAUSE_MS);
      });
    }),
  );
});
