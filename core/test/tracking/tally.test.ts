import fc from 'fast-check';
import { EVENT_KINDS } from '@kiraku/core/contract';
import { EMPTY_TALLY, tallyOf, type TallyEvent } from '@kiraku/core/tracking';

const event: fc.Arbitrary<TallyEvent> = fc.record({
  kind: fc.constantFrom(...EVENT_KINDS),
  at: fc.integer({ min: 0, max: 2_000_000_000_000 }),
  counted: fc.boolean(),
});

describe('tally', () => {
  test('counts, and keeps first and last', () => {
    expect(
      tallyOf([
        { kind: 'opened', at: 300, counted: true },
        { kind: 'opened', at: 100, counted: true },
        { kind: 'opened', at: 50, counted: false },
        { kind: 'clicked', at: 400, counted: true },
        { kind: 'replied', at: 500, counted: true },
        { kind: 'replied', at: 600, counted: true },
      ]),
    ).toEqual({
      ...EMPTY_TALLY,
      opens: 2,
      clicks: 1,
      replies: 2,
      notCounted: 1,
      firstOpenAt: 100,
      lastOpenAt: 300,
      firstClickAt: 400,
      lastClickAt: 400,
      repliedAt: 500,
      lastReplyAt: 600,
      lastEventAt: 600,
    });
  });

  test('what was not counted moves no other figure', () => {
    fc.assert(
      fc.property(fc.array(event), (events) => {
        const aside = events.map((one) => ({ ...one, counted: false }));
        expect(tallyOf(aside)).toEqual({ ...EMPTY_TALLY, notCounted: events.length });
      }),
    );
  });

  test('the order of arrival does not matter', () => {
    const shuffled = fc
      .array(event)
      .chain((events) => fc.tuple(fc.constant(events), fc.shuffledSubarray(events, { minLength: events.length })));
    fc.assert(fc.property(shuffled, ([events, other]) => expect(tallyOf(other)).toEqual(tallyOf(events))));
  });

  test('agrees with counting by hand', () => {
    fc.assert(
      fc.property(fc.array(event), (events) => {
        const opens = events.filter((one) => one.counted && one.kind === 'opened').map((one) => one.at);
        const tally = tallyOf(events);
        expect(tally.opens).toBe(opens.length);
        expect(tally.firstOpenAt).toBe(opens.length ? Math.min(...opens) : null);
        expect(tally.lastOpenAt).toBe(opens.length ? Math.max(...opens) : null);
      }),
    );
  });
});
