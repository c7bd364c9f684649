import { conditionText } from '@kiraku/core/sentences';
import {
  advance,
  afterWorkingDays,
  countsOf,
  holds,
  endsWithReply,
  type Plan,
  type PlanEvent,
} from '@kiraku/core/followups';
import { CONDITIONS, type DraftStep } from '@kiraku/core/contract';
import { DateTime } from 'luxon';
import fc from 'fast-check';

const DAY = 86_400_000;
const NOTHING = { opens: 0, clicks: 0, fileViews: 0, replies: 0 };
const dueAt = ({ workingDays }: DraftStep, from: number) => from + workingDays * DAY;

const step = (change: Partial<Plan['steps'][number]> = {}): Plan['steps'][number] => ({
  templateId: 1,
  condition: 'not-replied' as const,
  workingDays: 2,
  time: '09:30',
  state: 'planned' as const,
  dueAt: null,
  reason: null,
  ...change,
});
const plan = (...steps: Plan['steps']): Plan => ({ state: 'running', reason: null, steps });

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

const check = (at: number, counts = NOTHING, replyProblem: string | null = null): PlanEvent => ({
  kind: 'check',
  at,
  counts,
  replyProblem,
});

test('each step counts from when the one before it left', () => {
  const { plan: after, sent } = play(plan(step(), step({ workingDays: 3 })), [
    { kind: 'left', at: 0 },
    check(DAY),
    check(2 * DAY),
    { kind: 'left', at: 2 * DAY },
    check(4 * DAY),
    check(5 * DAY),
    { kind: 'left', at: 5 * DAY },
  ]);
  expect(sent.map(({ index, event }) => [index, event])).toEqual([
    [0, 2],
    [1, 5],
  ]);
  expect(after.state).toBe('done');
});

test('a step whose condition no longer holds is passed over, and the next one looked at', () => {
  const { plan: after, sent } = play(plan(step({ condition: 'not-opened' }), step({ workingDays: 1 })), [
    { kind: 'left', at: 0 },
    check(2 * DAY, { ...NOTHING, opens: 1 }),
    check(3 * DAY, { ...NOTHING, opens: 1 }),
  ]);
  expect(after.steps.map(({ state }) => state)).toEqual(['skipped', 'sent']);
  expect(sent).toHaveLength(1);
});

test('one that is left out is not sent, and the next one counts from its time', () => {
  const begun = play(plan(step(), step({ workingDays: 3 }), step()), [{ kind: 'left', at: 0 }]).plan;
  const { plan: after, sent } = play(begun, [{ kind: 'omitted', index: 0 }, check(2 * DAY), check(5 * DAY)]);
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

test('where a reply could not be seen, it waits and says why', () => {
  const { plan: after, sent } = play(plan(step()), [
    { kind: 'left', at: 0 },
    check(9 * DAY, NOTHING, 'The mailbox cannot be reached'),
  ]);
  expect(sent).toEqual([]);
  expect(after).toMatchObject({
    state: 'running',
    steps: [{ state: 'planned', reason: 'The mailbox cannot be reached' }],
  });
  // Said once: it stays the same plan, which nobody need write down again.
  expect(advance(after, check(10 * DAY, NOTHING, 'The mailbox cannot be reached'), dueAt).plan).toBe(after);
  expect(play(after, [check(9 * DAY)]).sent).toHaveLength(1);
});

const event: fc.Arbitrary<PlanEvent> = fc.oneof(
  {
    weight: 5,
    arbitrary: fc.record({
      kind: fc.constant('check' as const),
      at: fc.nat(40 * DAY),
      counts: fc.record({
        opens: fc.nat(2),
        clicks: fc.nat(1),
        fileViews: fc.nat(1),
        replies: fc.constantFrom(0, 0, 0, 1),
      }),
      replyProblem: fc.constantFrom(null, null, 'Away'),
    }),
  },
  { weight: 3, arbitrary: fc.record({ kind: fc.constant('left' as const), at: fc.nat(40 * DAY) }) },
  { weight: 1, arbitrary: fc.constant({ kind: 'ended' as const, why: 'Replied' }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('omitted' as const), index: fc.nat(5) }) },
);
const steps = fc.array(
  fc.record({
    condition: fc.constantFrom('not-replied' as const, 'not-opened' as const, 'not-clicked' as const),
    workingDays: fc.integer({ min: 1, max: 9 }),
  }),
  { minLength: 1, maxLength: 5 },
);

test('nothing is sent after a reply, no step twice, and none before its time, in whatever order things happen', () => {
  fc.assert(
    fc.property(steps, fc.array(event, { maxLength: 60 }), (made, events) => {
      let now = plan(...made.map((one) => step(one)));
      let replied = false;
      const sent: number[] = [];
      for (const one of events) {
        replied ||= one.kind === 'ended' || (one.kind === 'check' && one.counts.replies > 0);
        // A restart between any two: what is decided upon stands in the database, and nowhere else.
        const before = JSON.parse(JSON.stringify(now)) as Plan;
        const { plan: next, send } = advance(before, one, dueAt);
        if (send !== null) {
          expect(replied).toBe(false);
          expect(sent).not.toContain(send);
          expect(one.kind === 'check' && one.replyProblem === null && before.steps[send]!.dueAt! <= one.at).toBe(true);
          expect(one.kind === 'check' && holds(before.steps[send]!.condition, one.counts)).toBe(true);
          sent.push(send);
        }
        now = next;
      }
      // In their order.
      expect(sent).toEqual([...sent].sort());
      if (replied) expect(now.steps.every(({ state }) => state !== 'planned') || now.state === 'done').toBe(true);
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

test('a step goes by the message before it, and by a reply to any', () => {
  const messages = [
    { ...NOTHING, opens: 3, replies: 1 },
    { ...NOTHING, clicks: 2 },
  ];
  expect(countsOf(messages)).toEqual({ ...NOTHING, clicks: 2, replies: 1 });
});

test('whatever a condition waits for, a reply settles it, save in any case', () => {
  for (const condition of CONDITIONS) {
    expect(holds(condition, NOTHING)).toBe(true);
    expect(endsWithReply(condition)).toBe(condition !== 'always');
    expect(conditionText(condition)).toMatch(/^i[fn] /);
  }
  expect(holds('not-opened', { ...NOTHING, clicks: 1 })).toBe(false);
  expect(holds('not-clicked', { ...NOTHING, opens: 3 })).toBe(true);
  expect(holds('not-replied', { ...NOTHING, opens: 3, clicks: 2 })).toBe(true);
});
