import type { EventView, LiveUpdate, MessagePage, MessageSummary } from '@kiraku/core/contract';
import { EMPTY_TALLY } from '@kiraku/core/tracking';
import { api } from '../src/shared/api/api.js';
import { store } from '../src/shared/store/store.js';
import { pushed } from '../src/shared/api/pushed.js';
import { recentApi } from '../src/shared/api/recentApi.js';
import { sentApi } from '../src/shared/api/sentApi.js';
import { liveUpdate } from './liveUpdate.js';
import { Network, settled } from './network.js';

const message = (id: number, lastActivityAt: number, part: Partial<MessageSummary> = {}): MessageSummary =>
  ({
    id,
    state: 'sent',
    subject: `Message ${id}`,
    archived: false,
    lastActivityAt,
    sentAt: 1000,
    queuedAt: 1000,
    tally: EMPTY_TALLY,
    trailEvents: [],
    ...part,
  }) as unknown as MessageSummary;
const page = (messages: MessageSummary[], nextCursor: string | null = null): MessagePage =>
  ({ messages, nextCursor }) as MessagePage;

const push = (part: Partial<LiveUpdate>) => void store.dispatch(pushed(liveUpdate(part)));

let network: Network;
beforeEach(() => {
  store.dispatch(api.util.resetApiState());
  network = new Network();
});

describe('the list', () => {
  const shown = (query = '') => {
    const { data } = sentApi.endpoints.sent.select(query)(store.getState());
    return data?.pages.flatMap(({ messages }) => messages.map(({ id }) => id));
  };
  const open = (query = '') => void store.dispatch(sentApi.endpoints.sent.initiate(query));

  test('puts a message that something happened to at its top, once', async () => {
    open();
    await (await network.next()).respond(page([message(3, 30), message(2, 20), message(1, 10)]));
    push({ messages: [message(1, 40)] });
    expect(shown()).toEqual([1, 3, 2]);
    push({ messages: [message(1, 50)] });
    expect(shown()).toEqual([1, 3, 2]);
  });

  test('lets a message go that is archived, and takes one in that was not loaded', async () => {
    open();
    await (await network.next()).respond(page([message(3, 30), message(2, 20)], 'more'));
    push({ messages: [message(3, 30, { archived: true }), message(9, 90)] });
    expect(shown()).toEqual([9, 2]);
  });

  test('that is being read while a row changes shows the change', async () => {
    open();
    const asked = await network.next();
    push({ messages: [message(1, 40)] });
    await asked.respond(page([message(2, 20), message(1, 10)]));
    await settled();
    expect(shown()).toEqual([1, 2]);
  });

  test('that is narrowed asks the server which of the rows it shows, and gathers what comes meanwhile', async () => {
    open('show=replied');
    await (await network.next()).respond(page([message(2, 20)]));
    push({ messages: [message(1, 40)] });
    push({ messages: [message(3, 50)] });
    push({ messages: [message(4, 60)] });
    const first = await network.next();
    expect(first.path).toMatch(/show=replied&among=1$/);
    await settled();
    expect(network.asked).toEqual([]);
    await first.respond(page([message(1, 40)]));
    const second = await network.next();
    expect(decodeURIComponent(second.path)).toMatch(/among=3,4$/);
    await second.respond(page([message(4, 60)]));
    await settled();
    expect(shown('show=replied')).toEqual([4, 1, 2]);
  });
});

describe('the last hour', () => {
  const event = (eventId: number, part: Partial<EventView> = {}) =>
    ({ eventId, at: eventId, kind: 'opened', counted: true, ...part }) as EventView;
  const shown = () =>
    recentApi.endpoints.recent
      .select(null)(store.getState())
      .data?.events.map(({ eventId, counted }) => [eventId, counted]);
  const open = () => void store.dispatch(recentApi.endpoints.recent.initiate(null));

  test('takes in what happens, once, and what turns out to be no open', async () => {
    open();
    await (await network.next()).respond({ events: [event(1)], leftOut: 0 });
    push({ events: [event(2)] });
    push({ events: [event(2)], corrected: [event(1, { counted: false })] });
    expect(shown()).toEqual([
      [1, false],
      [2, true],
    ]);
  });

  test('that is being read while something happens shows it', async () => {
    open();
    const asked = await network.next();
    push({ events: [event(2)] });
    await asked.respond({ events: [event(1)], leftOut: 0 });
    await settled();
    expect(shown()).toEqual([
      [1, true],
      [2, true],
    ]);
  });
});
