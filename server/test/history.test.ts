import fc from 'fast-check';
import type { ChartEvent, Draft, EventView, HistoryPage, MessageDetail, MessageSummary } from '@kiraku/core/contract';
import { contentOf } from '@kiraku/core/message';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { kinds, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';

const MARIT = 'marit@history.example';
const JUN = 'jun@history.example';
const BODY =
  '<p><a href="https://tallowreed.example/plan">fitting plan</a> <a href="https://tallowreed.example/price">price list</a></p>';

let id: number;
let detail: MessageDetail;

useDesk('all');
beforeAll(async () => {
  desk.clock.stop();
  id = (await desk.send({ recipients: [to(MARIT, 'Marit Oakes'), to(JUN, 'Jun Falk', 'cc')], html: BODY })).id;
  await desk.sent(id);
  desk.clock.advance(10 * MINUTE);
  const [hers, his] = [trackingUrlsOf(mail.to(MARIT)), trackingUrlsOf(mail.to(JUN))];
  await look(hers.image!);
  await look(hers.links[0]!);
  await look(hers.links[1]!);
  await look(
    his.image!,
    'Mozilla/5.0 (iPhone; CPU iPhone OS 18_6 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Mobile/15E148 Safari/604.1',
  );
  await look(his.image!, 'LinkInspector/1.0 (+https://inspect.example/bot)');
  detail = await desk.detail(id);
});

async function look(url: string, agent?: string): Promise<void> {
  await desk.visit(url, agent === undefined ? {} : { headers: { 'user-agent': agent } });
  desk.clock.advance(5 * MINUTE);
}

async function history(query: Record<string, string | number> = {}, of = id): Promise<EventView[]> {
  const entries = Object.entries(query).map(([name, value]): [string, string] => [name, String(value)]);
  return (await desk.json<HistoryPage>('GET', `/api/messages/${of}/events?${new URLSearchParams(entries)}`)).events;
}
const copyOf = (address: string) => detail.copies.find(({ recipient }) => recipient.address === address)!.id;

describe('the history', () => {
  test('is whole unless it is narrowed, the newest first', async () => {
    expect(kinds(await history())).toEqual(['opened (robot)', 'opened', 'clicked', 'clicked', 'opened']);
    expect(await history()).toEqual(detail.events);
  });

  test('is narrowed by the activity, to whom, on which link, and without what was not counted', async () => {
    expect(kinds(await history({ kind: 'clicked' }))).toEqual(['clicked', 'clicked']);
    expect(kinds(await history({ copy: copyOf(JUN) }))).toEqual(['opened (robot)', 'opened']);
    expect(kinds(await history({ copy: copyOf(JUN), notCounted: 'false' }))).toEqual(['opened']);
    const [, price] = detail.links;
    expect((await history({ link: price!.id })).map(({ label }) => label)).toEqual(['price list']);
  });

  test('any two moments cut out what lies between them, and nothing else', async () => {
    const all = await history();
    const moments = all.flatMap(({ at }) => [at - 1, at, at + 1]);
    await fc.assert(
      fc.asyncProperty(fc.constantFrom(...moments), fc.constantFrom(...moments), async (from, until) => {
        const found = await history({ from, to: until });
        expect(found).toEqual(all.filter(({ at }) => at >= from && at < until));
      }),
      { numRuns: 25 },
    );
  });

  test('goes on after the last one that is known', async () => {
    const all = await history();
    const page = (more: string) => desk.json<HistoryPage>('GET', `/api/messages/${id}/events?limit=2${more}`);
    const first = await page('');
    const second = await page(`&cursor=${first.nextCursor}`);
    const last = await page(`&cursor=${second.nextCursor}`);
    expect([first, second, last].flatMap(({ events }) => events)).toEqual(all);
    expect(last.nextCursor).toBeNull();
  });

  test.each([
    ['kind=looked', 422],
    ['from=-1', 422],
    ['copy=hers', 422],
    ['scope=world', 422],
    ['cursor=yesterday', 422],
    ['limit=1000', 422],
  ])('%s is refused', async (query, status) => {
    expect((await desk.call('GET', `/api/messages/${id}/events?${query}`)).status).toBe(status);
  });

  test('nobody’s history is not there', async () => {
    for (const path of ['events', 'chart', 'conversation'])
      expect((await desk.call('GET', `/api/messages/999999/${path}`)).status).toBe(404);
  });
});

test('the chart has every mark with its reader, the oldest first', async () => {
  const trailEvents = await desk.json<ChartEvent[]>('GET', `/api/messages/${id}/chart`);
  expect(trailEvents.map(({ eventId }) => eventId)).toEqual((await history()).map(({ eventId }) => eventId).reverse());
  expect(trailEvents.at(-2)).toMatchObject({ copyId: copyOf(JUN), device: 'phone', system: 'iOS', counted: true });
  expect(trailEvents.at(-1)).toMatchObject({ copyId: copyOf(JUN), counted: false });
});

describe('a conversation', () => {
  const conversation = (of: number) => desk.json<MessageSummary[]>('GET', `/api/messages/${of}/conversation`);

  /** Writes on from a message, and sends it. */
  async function replied(of: number, html: string): Promise<number> {
    const draft = await desk.json<Draft>('POST', `/api/messages/${of}/reply`);
    const saved = await desk.json<Draft>('PUT', `/api/drafts/${draft.id}`, {
      ...contentOf(draft),
      html,
      revision: draft.revision,
    });
    const sent = await desk.json<MessageSummary>('POST', `/api/drafts/${draft.id}/send`, { revision: saved.revision });
    await desk.sent(sent.id);
    desk.clock.advance(10 * MINUTE);
    return sent.id;
  }

  test('holds what was written on, from whichever message one looks, and nothing else to the same people', async () => {
    const second = await replied(id, '<p>And one more thing.</p>');
    const third = await replied(second, '<p>May I call?</p>');
    const other = (await desk.send({ recipients: [to(MARIT, 'Marit Oakes')], subject: 'Something else' })).id;
    await desk.sent(other);
    for (const one of [id, second, third])
      expect((await conversation(one)).map((row) => row.id)).toEqual([id, second, third]);
    expect((await conversation(other)).map((row) => row.id)).toEqual([other]);
  });

  test('has one history over all its messages', async () => {
    const [, second] = await conversation(id);
    const received = mail.received.find((one) => one.parsed.subject === second!.subject && one.to.includes(MARIT))!;
    desk.clock.advance(30 * SECOND);
    await look(trackingUrlsOf(received).image!);
    const whole = await history({ scope: 'conversation' });
    expect(whole[0]).toMatchObject({ messageId: second!.id, kind: 'opened' });
    expect(whole).toHaveLength(detail.events.length + 1);
    expect(await history()).toHaveLength(detail.events.length);
    const trailEvents = await desk.json<ChartEvent[]>('GET', `/api/messages/${id}/chart?scope=conversation`);
    expect(new Set(trailEvents.map(({ messageId }) => messageId))).toEqual(new Set([id, second!.id]));
  });
});
