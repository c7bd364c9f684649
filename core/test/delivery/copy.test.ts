import type { CopyState, DeliveryAction, DsnState } from '@kiraku/core/contract';
import {
  afterDelivery,
  arrivalsFirst,
  newDelivery,
  recordedAs,
  retryDelayMs,
  retryOf,
  type CopyDelivery,
  type DeliveryEvent,
} from '@kiraku/core/delivery';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import fc from 'fast-check';

const GIVE_UP_MS = 3 * DAY;
const STATES: CopyState[] = ['queued', 'sent', 'failed'];
const DSN_STATES: (DsnState | null)[] = [null, 'not-offered', 'asked', 'delayed', 'relayed', 'delivered', 'failed'];

const accepted = (at: number): DeliveryEvent => ({ kind: 'accepted', at, dsnState: 'asked' });
const delayed = (at: number): DeliveryEvent => ({ kind: 'delayed', at, words: '451 Later', giveUpMs: GIVE_UP_MS });
const refused: DeliveryEvent = { kind: 'refused', words: '550 Unknown' };
const reported = (action: DeliveryAction, address = 'ana@harbour.example') =>
  ({ kind: 'reported', action, words: 'Mailbox full', address }) as const;

/** How a copy stands after all of these, one after another; one that changes nothing leaves it as it is. */
const after = (events: DeliveryEvent[], copy: CopyDelivery = newDelivery(0)) =>
  events.reduce((now, event) => afterDelivery(now, event) ?? now, copy);

describe('what one event does', () => {
  // Whatever a state does not answer to is listed as “-”: who adds an event or a state has to say what it does.
  const EVENTS: Record<string, DeliveryEvent> = {
    accepted: accepted(MINUTE),
    delayed: delayed(MINUTE),
    refused,
    retried: { kind: 'retried', at: MINUTE },
    resent: { kind: 'resent', at: MINUTE },
    withdrawn: { kind: 'withdrawn', words: 'Erased' },
    held: { kind: 'held', words: 'Restored' },
    'reported delivered': reported('delivered'),
    'reported failed': reported('failed'),
  };
  const RESULTS: [name: string, queued: string, sent: string, failed: string][] = [
    ['accepted', 'sent', '-', 'sent'],
    ['delayed', 'queued', '-', '-'],
    ['refused', 'failed', '-', '-'],
    ['retried', 'queued', '-', '-'],
    ['resent', '-', '-', 'queued'],
    ['withdrawn', 'failed', '-', '-'],
    ['held', 'failed', '-', '-'],
    ['reported delivered', 'queued', 'sent', 'failed'],
    ['reported failed', '-', 'failed', '-'],
  ];
  const COPIES: Record<CopyState, CopyDelivery> = {
    queued: newDelivery(0),
    sent: after([accepted(1)]),
    failed: after([refused]),
  };
  test.each(RESULTS)('%s', (name, ...expected) => {
    expect(STATES.map((state) => afterDelivery(COPIES[state], EVENTS[name]!)?.state ?? '-')).toEqual(expected);
  });
  test('every event is in the list', () => {
    expect(RESULTS.map(([name]) => name)).toEqual(Object.keys(EVENTS));
  });
});

describe('retries', () => {
  test('come ever later, and three hours apart in the end', () => {
    const minutes = [1, 2, 3, 4, 5, 6, 7, 50].map((attempts) => retryDelayMs(attempts) / MINUTE);
    expect(minutes).toEqual([1, 5, 15, 30, 60, 180, 180, 180]);
    const twice = after([delayed(10), delayed(100)]);
    expect(twice.waiting).toEqual({ since: 0, attempts: 2, nextAttemptAt: 100 + 5 * MINUTE });
    expect(twice.lastError).toBe('451 Later');
  });

  test('end at the age that was set, not a moment before', () => {
    expect(after([delayed(GIVE_UP_MS - 1)]).state).toBe('queued');
    const givenUp = after([delayed(GIVE_UP_MS)]);
    expect(givenUp).toMatchObject({ state: 'failed', waiting: null, lastError: '451 Later' });
  });

  test('that the user asks for begin anew', () => {
    const waiting = after([delayed(10), delayed(20), { kind: 'retried', at: 30 }]).waiting;
    expect(waiting).toEqual({ since: 0, attempts: 0, nextAttemptAt: 30 });
    const resent = after([refused, { kind: 'resent', at: 10 * DAY }]);
    expect(resent).toMatchObject({ state: 'queued', lastError: null, waiting: { since: 10 * DAY, attempts: 0 } });
    expect(STATES.map(retryOf)).toEqual(['retried', null, 'resent']);
  });
});

describe('reports', () => {
  test('that it failed fail what had left, and one that it arrived takes that back', () => {
    const failed = after([accepted(1), reported('failed')]);
    expect(failed).toMatchObject({ state: 'failed', dsnState: 'failed', lastError: 'Mailbox full', sentAt: 1 });
    expect(after([reported('relayed')], failed)).toMatchObject({ state: 'sent', dsnState: 'relayed' });
    expect(after([reported('delayed')], failed)).toEqual(failed);
  });

  test('do not take back what the outgoing server refused', () => {
    expect(after([refused, reported('delivered')]).state).toBe('failed');
  });

  test('of several behind an address leave arrived what arrived for one', () => {
    const copy = after([accepted(1), reported('delivered'), reported('failed', 'second@harbour.example')]);
    expect(copy).toMatchObject({ state: 'sent', dsnState: 'delivered' });
    expect(copy.lastError).toBe('second@harbour.example did not get it: Mailbox full');
  });

  test.each(DSN_STATES)('of a delay count only where nothing else is known yet: %s', (dsnState) => {
    const copy = after([reported('delayed')], { ...after([accepted(1)]), dsnState });
    expect(copy.dsnState).toBe(dsnState === 'asked' ? 'delayed' : dsnState);
  });
});

describe('what is recorded', () => {
  test.each<[DeliveryEvent, ReturnType<typeof recordedAs>]>([
    [accepted(MINUTE), null],
    [delayed(MINUTE), null],
    [delayed(GIVE_UP_MS), 'bounced'],
    [refused, 'bounced'],
  ])('of an attempt: $0.kind at $0.at', (event, expected) => {
    expect(recordedAs(event, after([event]))).toBe(expected);
  });

  test.each<[DeliveryAction, ReturnType<typeof recordedAs>]>([
    ['delivered', 'delivered'],
    ['relayed', 'delivered'],
    ['expanded', 'delivered'],
    ['delayed', null],
    ['failed', 'bounced'],
  ])('of a report: %s', (action, expected) => {
    expect(recordedAs(reported(action), after([accepted(1), reported(action)]))).toBe(expected);
  });

  test('of one mail arrivals come first, and else its order stays', () => {
    const actions: DeliveryAction[] = ['failed', 'delayed', 'failed', 'relayed'];
    const reports = actions.map((action, index) => ({ action, index }));
    expect(arrivalsFirst(reports).map(({ index }) => index)).toEqual([1, 3, 0, 2]);
  });

  test('a list says nothing of those behind it', () => {
    expect(after([accepted(1), reported('expanded')]).dsnState).toBe('relayed');
  });
});

describe('whatever comes in whatever order', () => {
  const at = fc.integer({ min: 0, max: 10 * DAY });
  const words = fc.constantFrom('451 Later', '550 No');
  const anyEvent: fc.Arbitrary<DeliveryEvent> = fc.oneof(
    fc.record({ kind: fc.constant('accepted' as const), at, dsnState: fc.constantFrom(null, 'asked', 'not-offered') }),
    fc.record({ kind: fc.constant('delayed' as const), at, words, giveUpMs: fc.constant(GIVE_UP_MS) }),
    fc.record({ kind: fc.constant('refused' as const), words }),
    fc.record({ kind: fc.constantFrom('retried' as const, 'resent' as const), at }),
    fc.record({ kind: fc.constantFrom('withdrawn' as const, 'held' as const), words }),
    fc.record({
      kind: fc.constant('reported' as const),
      action: fc.constantFrom<DeliveryAction>('delivered', 'relayed', 'expanded', 'delayed', 'failed'),
      words,
      address: fc.constant('ana@harbour.example'),
    }),
  );

  test('a copy waits exactly while it is queued, was taken where it is sent, and says why where it failed', () => {
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 30 }), (events) => {
        let copy: CopyDelivery = newDelivery(0);
        for (const event of events) {
          const before = structuredClone(copy);
          const next = afterDelivery(copy, event);
          expect(copy).toEqual(before);
          copy = next ?? copy;
          expect(copy.waiting !== null).toBe(copy.state === 'queued');
          if (copy.state === 'sent') expect(copy.sentAt).not.toBeNull();
          if (copy.state === 'failed') expect(copy.lastError).not.toBeNull();
        }
      }),
    );
  });

  test('what a server says twice changes nothing the second time', () => {
    // A delay is each time another attempt.
    const said = anyEvent.filter(({ kind }) => kind === 'reported' || kind === 'accepted' || kind === 'refused');
    fc.assert(
      fc.property(fc.array(anyEvent, { maxLength: 10 }), said, (events, event) => {
        const once = after([...events, event]);
        expect(after([event], once)).toEqual(once);
      }),
    );
  });

  /** What a mail server answers, one attempt after another; `killed`: it took the mail, and the machine died before that was noted. */
  type Answer = 'takes' | 'later' | 'never' | 'killed';
  interface World {
    copy: CopyDelivery;
    taken: number;
    noted: number;
    now: number;
  }

  /** The outbox: hands over what is due, and notes what came of it. */
  function attempt(world: World, answer: Answer): World {
    const { copy, taken, noted } = world;
    if (copy.waiting === null) return world;
    const now = Math.max(world.now, copy.waiting.nextAttemptAt);
    if (answer === 'killed') return { ...world, now, taken: taken + 1 };
    const event = answer === 'takes' ? accepted(now) : answer === 'later' ? delayed(now) : refused;
    const took = answer === 'takes' ? 1 : 0;
    return { copy: after([event], copy), taken: taken + took, noted: noted + took, now };
  }

  test('nothing goes twice but by a lost “250”, and nothing is forgotten', () => {
    const answers = fc.array(fc.constantFrom<Answer>('takes', 'later', 'never', 'killed'), { maxLength: 40 });
    fc.assert(
      fc.property(answers, (said) => {
        const start: World = { copy: newDelivery(0), taken: 0, noted: 0, now: 0 };
        const world = said.reduce(attempt, start);
        const killed = said.filter((answer) => answer === 'killed').length;
        expect(world.noted).toBe(world.copy.state === 'sent' ? 1 : 0);
        expect(world.taken - world.noted).toBeLessThanOrEqual(killed);
        // However it stands, it comes to an end: by the first server that takes it, or by its age.
        expect(attempt(world, 'takes').copy.state).not.toBe('queued');
        const end = Array.from({ length: 60 }, () => 'later' as const).reduce<World>(attempt, world);
        expect(end.copy.state).not.toBe('queued');
        expect(end.now).toBeLessThanOrEqual(Math.max(world.now, GIVE_UP_MS) + 3 * HOUR);
      }),
    );
  });
});
