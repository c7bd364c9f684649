import {
  advance,
  afterWorkingDays,
  conditionWords,
  countsOf,
  holds,
  restsOnAnswer,
  type Plan,
  type PlanEvent,
} from '@kiraku/core/followups';
import { CONDITIONS, type DraftStep } from '@kiraku/core/contract';
import { DateTime } from 'luxon';
import fc from 'fast-check';

const DAY = 86_400_000;
const NOTHING = { opens: 0, clicks: 0, fileViews: 0, answers: 0 };
const dueAt = ({ workingDays }: DraftStep, from: number) => from + workingDays * DAY;

const step = (change: Partial<Plan['steps'][number]> = {}): Plan['steps'][number] => ({
  ...{ templateId: 1, condition: 'unanswered' as const, workingDays: 2, time: '09:30' },
  ...{ state: 'planned' as const, dueAt: null, words: null },
  ...change,
});
const plan = (...steps: Plan['steps']): Plan => ({ state: 'running', words: null, steps });

/** Plays events one after another. Returns the plan, and when which step was sent. */
function play(from: Plan, events: PlanEvent[]) {
  let now = from;
  const sent: { index: number; event: number }[] = [];
  events.forEach((event, at) => {
    const { plan: next, send } = advance(now, event, dueAt);
    now = next;
    if (send !== null) sent.push({ index: send, event: at });
  });
  return { plan: now, sent };
}

const look = (at: number, counts = NOTHING, blind: string | null = null): PlanEvent => ({
  kind: 'look',
  at,
  counts,
  blind,
});

test('each step counts from when the one before it left', () => {
  const { plan: after, sent } = play(plan(step(), step({ workingDays: 3 })), [
    { kind: 'left', at: 0 },
    look(DAY),
    look(2 * DAY),
    { kind: 'left', at: 2 * DAY },
    look(4 * DAY),
    look(5 * DAY),
    { kind: 'left', at: 5 * DAY },
  ]);
  expect(sent.map(({ index, event }) => [index, event])).toEqual([
    [0, 2],
    [1, 5],
  ]);
  expect(after.state).toBe('done');
});

test('a step whose condition no longer holds is passed over, and the next one looked at', () => {
  const { plan: after, sent } = play(plan(step({ condition: 'unopened' }), step({ workingDays: 1 })), [
    { kind: 'left', at: 0 },
    look(2 * DAY, { ...NOTHING, opens: 1 }),
    look(3 * DAY, { ...NOTHING, opens: 1 }),
  ]);
  expect(after.steps.map(({ state }) => state)).toEqual(['skipped', 'sent']);
  expect(sent).toHaveLength(1);
});

test('one that is left out is not sent, and the next one counts from its time', () => {
  const begun = play(plan(step(), step({ workingDays: 3 }), step()), [{ kind: 'left', at: 0 }]).plan;
  const { plan: after, sent } = play(begun, [{ kind: 'omitted', index: 0 }, look(2 * DAY), look(5 * DAY)]);
  expect(after.steps.map(({ state }) => state)).toEqual(['stopped', 'sent', 'planned']);
  expect(sent).toEqual([{ index: 1, event: 2 }]);
  // What has left cannot be left out; without the last one nothing is to come.
  expect(advance(after, { kind: 'omitted', index: 1 }, dueAt).plan).toBe(after);
  const last = play(plan(step()), [
    { kind: 'left', at: 0 },
    { kind: 'omitted', index: 0 },
  ]).plan;
  expect(last.state).toBe('done');
});

test('where an answer could not be seen, it waits and says why', () => {
  const { plan: after, sent } = play(plan(step()), [
    { kind: 'left', at: 0 },
    look(9 * DAY, NOTHING, 'The mailbox cannot be reached'),
  ]);
  expect(sent).toEqual([]);
  expect(after).toMatchObject({
    state: 'running',
    steps: [{ state: 'planned', words: 'The mailbox cannot be reached' }],
  });
  // Said once: it stays the same plan, which nobody need write down again.
  expect(advance(after, look(10 * DAY, NOTHING, 'The mailbox cannot be reached'), dueAt).plan).toBe(after);
  expect(play(after, [look(9 * DAY)]).sent).toHaveLength(1);
});

const event: fc.Arbitrary<PlanEvent> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({
      kind: fc.constant('look' as const),
      at: fc.nat(40 * DAY),
      counts: fc.record({
        opens: fc.nat(2),
        clicks: fc.nat(1),
        fileViews: fc.nat(1),
        answers: fc.constantFrom(0, 0, 0, 1),
      }),
      blind: fc.constantFrom(null, null, 'Away'),
    }),
  },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('left' as const), at: fc.nat(40 * DAY) }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'ended' as const, why: 'Answered' }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('omitted' as const), index: fc.nat(5) }) },
);
const steps = fc.array(
  fc.record({
    condition: fc.constantFrom('unanswered' as const, 'unopened' as const, 'unfollowed' as const),
    workingDays: fc.integer({ min: 1, max: 9 }),
  }),
  { minLength: 1, maxLength: 5 },
);

test('nothing is sent after an answer, no step twice, and none before its time, in whatever order things happen', () => {
  fc.assert(
    fc.property(steps, fc.array(event, { maxLength: 60 }), (made, events) => {
      let now = plan(...made.map((one) => step(one)));
      let answered = false;
      const sent: number[] = [];
      for (const one of events) {
        answered ||= one.kind === 'ended' || (one.kind === 'look' && one.counts.answers > 0);
        // A restart between any two: what is decided upon stands in the database, and nowhere else.
        const before = JSON.parse(JSON.stringify(now)) as Plan;
        const { plan: next, send } = advance(before, one, dueAt);
        if (send !== null) {
          expect(answered).toBe(false);
          expect(sent).not.toContain(send);
          expect(one.kind === 'look' && one.blind === null && before.steps[send]!.dueAt! <= one.at).toBe(true);
          expect(one.kind === 'look' && holds(before.steps[send]!.condition, one.counts)).toBe(true);
          sent.push(send);
        }
        now = next;
      }
      // In their order.
      expect(sent).toEqual([...sent].sort());
      if (answered) expect(now.steps.every(({ state }) => state !== 'planned') || now.state === 'done').toBe(true);
    }),
  );
});

describe('working days', () => {
  const zone = 'Europe/Helsinki';
  const read = (from: string, days: number, time: string) =>
    DateTime.fromMillis(afterWorkingDays(DateTime.fromISO(from, { zone }).toMillis(), days, time, zone), {
      zone,
    }).toFormat('ccc d LLL HH:mm');

  test.each([
    ['2026-11-25T16:00', 1, '09:30', 'Thu 26 Nov 09:30'],
    ['2026-11-26T16:00', 2, '09:30', 'Mon 30 Nov 09:30'],
    ['2026-11-27T08:00', 1, '09:00', 'Mon 30 Nov 09:00'],
    ['2026-11-28T12:00', 1, '09:00', 'Mon 30 Nov 09:00'],
    ['2026-11-25T16:00', 10, '11:00', 'Wed 9 Dec 11:00'],
    // Over the change of the clocks.
    ['2026-10-23T16:00', 1, '09:00', 'Mon 26 Oct 09:00'],
  ])('from %s, %d on at %s is %s', (from, days, time, expected) => expect(read(from, days, time)).toBe(expected));

  test('never on a weekend, and always later by as many days as it says', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 3e12 }), fc.integer({ min: 1, max: 60 }), (from, days) => {
        const at = DateTime.fromMillis(afterWorkingDays(from, days, '09:00', zone), { zone });
        expect(at.weekday).toBeLessThanOrEqual(5);
        expect(at.toMillis() - from).toBeGreaterThan((days - 1) * DAY - DAY);
        expect(at.hour).toBe(9);
      }),
    );
  });
});

test('a step goes by the letter before it, and by an answer to any', () => {
  const letters = [
    { ...NOTHING, opens: 3, answers: 1 },
    { ...NOTHING, clicks: 2 },
  ];
  expect(countsOf(letters)).toEqual({ ...NOTHING, clicks: 2, answers: 1 });
});

test('whatever a condition waits for, an answer settles it, save in any case', () => {
  for (const condition of CONDITIONS) {
    expect(holds(condition, NOTHING)).toBe(true);
    expect(restsOnAnswer(condition)).toBe(condition !== 'always');
    expect(conditionWords(condition)).toMatch(/^i[fn] /);
  }
  expect(holds('unopened', { ...NOTHING, clicks: 1 })).toBe(false);
  expect(holds('unfollowed', { ...NOTHING, opens: 3 })).toBe(true);
  expect(holds('unanswered', { ...NOTHING, opens: 3, clicks: 2 })).toBe(true);
});
