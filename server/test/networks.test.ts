import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import type { EventView, NetworkPage, SimilarHits } from '@kiraku/core/contract';
import { DAY, HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import { DEFAULT_JUDGING } from '@kiraku/server/tracking/choices';
import { Judging } from '@kiraku/server/tracking/judging';
import { Retention } from '@kiraku/server/privacy/retention';
import { desk, mail, to, trackingUrlsOf, useDesk } from './harness.js';

const MARIT = 'marit@lindqvist.example';
const BODY = [1, 2, 3].map((n) => `<p><a href="https://tallowreed.example/${n}">Link ${n}</a></p>`).join('');
const HOME = '198.51.100.20';

/** Of neighbouring addresses in a data centre, one; others by their last number. */
const dataCentre = hostedAddress();
const inDataCentre = (last: number) => dataCentre.replace(/\d+$/, String(last));
const PREFIX = `${inDataCentre(0)}/24`;

useDesk('each');

beforeEach(async () => {
  desk.clock.stop();
  await desk.json('PUT', '/api/settings/judging', { ...DEFAULT_JUDGING, proxies: ['127.0.0.1'] });
});

/** The first address of a network that is of a data centre and large enough to hold its neighbours. */
function hostedAddress(): string {
  const file = createRequire(import.meta.url).resolve('@ip-location-db/asn/asn-ipv4.csv');
  const row = readFileSync(file, 'latin1')
    .split('\n')
    .find((line) => /^[\d.]+\.0,[\d.]+\.255,.*Hosting/.test(line))!;
  return row.split(',')[0]!;
}

/** Sends a message, and a minute later says where its copy is asked for. */
async function sent(): Promise<{ id: number; image: string; links: string[] }> {
  const { id } = await desk.send({ html: BODY, recipients: [to(MARIT)] });
  await desk.sent(id);
  const { image, links } = trackingUrlsOf(mail.received.at(-1)!);
  desk.clock.advance(MINUTE);
  return { id, image: image!, links };
}

const visit = (ip: string, url: string, agent?: string) =>
  desk.visit(url, { headers: { 'x-forwarded-for': ip, ...(agent && { 'user-agent': agent }) } });
const reasons = async (id: number) => (await desk.detail(id)).events.map(({ reason }) => reason).reverse();
const networks = async () => (await desk.json<NetworkPage>('GET', '/api/settings/networks')).networks;
const decide = (eventIds: number[], counted: boolean | null) =>
  desk.call('PUT', '/api/events/override', { eventIds, counted });
const similarTo = async (id: number) => (await desk.json<SimilarHits>('GET', `/api/events/${id}/similar`)).eventIds;

/** A filter that follows two links at once, from neighbouring addresses. */
async function scan({ links }: { links: string[] }): Promise<void> {
  await visit(inDataCentre(7), links[0]!);
  desk.clock.advance(300);
  await visit(inDataCentre(8), links[1]!);
}

async function openedFrom(ip: string): Promise<{ id: number; event: EventView }> {
  const message = await sent();
  await visit(ip, message.image);
  return { id: message.id, event: (await desk.detail(message.id)).events[0]! };
}

test('a network that behaved like a filter is one on other messages, and says by what', async () => {
  const first = await sent();
  await scan(first);
  expect(await reasons(first.id)).toEqual(['many-links', 'many-links']);

  const { id, event } = await openedFrom(inDataCentre(9));
  expect(event).toMatchObject({ counted: false, reason: 'filter-network', evidence: 'filter-network' });
  expect(event.likelihood).toBeLessThan(50);
  expect(await networks()).toMatchObject([
    { prefix: PREFIX, owner: expect.stringMatching(/Hosting/), seenAs: 'filter', namedAs: null, people: 0 },
  ]);

  // What it is remembered by is not what it adds to: the whole again comes out the same.
  await desk.json('POST', '/api/rejudge');
  await desk.get(Judging).done();
  expect(await reasons(id)).toEqual(['filter-network']);
  expect(await reasons(first.id)).toEqual(['many-links', 'many-links']);
  expect((await networks())[0]!.filter).toBeCloseTo(2, 0);
});

test('what a filter did fades, and the network is forgotten in the end', async () => {
  await scan(await sent());
  expect((await networks())[0]!.filter).toBe(2);
  desk.clock.advance(90 * DAY);
  expect((await networks())[0]!.filter).toBe(1);
  desk.clock.advance(360 * DAY);
  await desk.get(Retention).forget();
  expect(await networks()).toEqual([]);
});

test('the time after which readers are forgotten holds for networks, save for those that the user has named', async () => {
  await scan(await sent());
  const [network] = await networks();
  desk.clock.advance(11 * DAY);
  await desk.call('PUT', `/api/settings/networks/${network!.id}`, { namedAs: 'filter' });
  const settings = await desk.json<object>('GET', '/api/settings/privacy');
  await desk.json('PUT', '/api/settings/privacy', { ...settings, forgetReadersDays: 10 });
  await desk.get(Retention).forget();
  expect(await networks()).toMatchObject([{ namedAs: 'filter' }]);
  await desk.call('PUT', `/api/settings/networks/${network!.id}`, { namedAs: null });
  await desk.get(Retention).forget();
  expect(await networks()).toEqual([]);
});

test('what the user says that a network is holds for what comes; forgotten, it is seen anew', async () => {
  await scan(await sent());
  const { id: network } = (await networks())[0]!;
  await desk.call('PUT', `/api/settings/networks/${network}`, { namedAs: 'people' });
  const second = await sent();
  await visit(inDataCentre(7), second.links[0]!);
  expect(await reasons(second.id)).toEqual([null]);

  await desk.call('PUT', `/api/settings/networks/${network}`, { namedAs: 'filter' });
  expect((await openedFrom(inDataCentre(7))).event.reason).toBe('named-filter');

  await desk.call('DELETE', `/api/settings/networks/${network}`);
  expect((await openedFrom(inDataCentre(7))).event.reason).toBeNull();
});

test.each([
  ['PUT', '/api/settings/networks/99999', { namedAs: 'filter' }, 404],
  ['DELETE', '/api/settings/networks/99999', undefined, 404],
  ['PUT', '/api/settings/networks/1', { namedAs: 'friend' }, 422],
  ['GET', '/api/settings/networks?cursor=nonsense', undefined, 422],
  ['GET', '/api/events/99999/similar', undefined, 404],
  ['PUT', '/api/events/override', { eventIds: ['x'], counted: true }, 422],
  ['PUT', '/api/events/override', { eventIds: Array(201).fill(1), counted: true }, 422],
])('%s %s is refused', async (method, path, body, status) => {
  expect((await desk.call(method, path, body)).status).toBe(status);
});

test('where people live is not remembered', async () => {
  const { links, image } = await sent();
  await visit(HOME, image);
  desk.clock.advance(10 * SECOND);
  await visit(HOME, links[0]!);
  expect(desk.sqlite.prepare('select * from network').all()).toEqual([]);
});

test('a correction teaches, and similar past hits are changed together; undone, all is as before', async () => {
  const opened = [];
  for (let n = 0; n < 3; n += 1) {
    desk.clock.advance(HOUR);
    opened.push(await openedFrom(inDataCentre(20 + n)));
  }
  const [last, ...others] = [...opened].reverse();
  const ids = others.map(({ event }) => event.eventId);
  expect(opened.map(({ event }) => event.reason)).toEqual([null, null, null]);
  expect((await desk.call('GET', `/api/events/${last!.event.eventId}/similar`)).status).toBe(404);

  await desk.call('PUT', `/api/events/${last!.event.eventId}/override`, { counted: false });
  expect(await similarTo(last!.event.eventId)).toEqual(ids);
  expect((await networks())[0]).toMatchObject({ seenAs: 'filter', filter: 3 });

  await decide(ids, false);
  for (const { id } of opened) expect(await reasons(id)).toEqual(['override']);
  expect(await similarTo(last!.event.eventId)).toEqual([]);

  await decide([...ids, last!.event.eventId], null);
  expect(await networks()).toEqual([]);
  for (const { id } of opened) {
    const { events, summary } = await desk.detail(id);
    expect(events).toMatchObject([{ counted: true, override: null }]);
    expect(summary.tally).toMatchObject({ opens: 1, notCounted: 0 });
  }
});

test('of an ordinary address, what the same person did from it is similar, and nobody else’s', async () => {
  const [first, second] = [await openedFrom(HOME), await openedFrom(HOME)];
  const { id } = await desk.send({ recipients: [to('jun@lindqvist.example')] });
  await desk.sent(id);
  desk.clock.advance(MINUTE);
  await visit(HOME, trackingUrlsOf(mail.received.at(-1)!).image!);
  await desk.call('PUT', `/api/events/${second.event.eventId}/override`, { counted: false });
  expect(await similarTo(second.event.eventId)).toEqual([first.event.eventId]);
});

test('what nobody can be sure of counts, and is numbered as uncertain until evidence comes', async () => {
  const { id } = await desk.send({ html: BODY, recipients: [to(MARIT)] });
  await desk.sent(id);
  const { image, links } = trackingUrlsOf(mail.received.at(-1)!);
  desk.clock.advance(10 * SECOND);
  await visit(inDataCentre(7), image!, 'Mozilla/5.0 (via ggpht.com GoogleImageProxy)');
  const before = await desk.detail(id);
  expect(before.events).toMatchObject([{ counted: true, likelihood: 50 }]);
  expect(before.summary.tally).toMatchObject({ opens: 1, uncertainOpens: 1 });
  expect(before.copies[0]!.tally).toMatchObject({ opens: 1, uncertainOpens: 1 });

  desk.clock.advance(5 * MINUTE);
  for (const link of links.slice(0, 3)) {
    await visit(inDataCentre(7), link);
    desk.clock.advance(20 * SECOND);
  }
  const after = await desk.detail(id);
  expect(after.summary.tally).toMatchObject({ opens: 0, uncertainOpens: 0, clicks: 0 });
  expect(after.events.every(({ counted, evidence }) => !counted && evidence !== null)).toBe(true);
});

test('who asks for the page to opt out is recorded from data centres alone, as evidence for what else came from there', async () => {
  const { id, image, links } = await sent();
  const page = image.replace('/i/', '/o/').replace('.gif', '');
  const visits = () => desk.sqlite.prepare('select network from opt_out_visit').pluck().all();
  await visit(HOME, page);
  await desk.caughtUp();
  expect(visits()).toEqual([]);

  desk.clock.advance(HOUR);
  await visit(inDataCentre(7), image);
  desk.clock.advance(20 * SECOND);
  await visit(inDataCentre(8), links[1]!);
  expect(await reasons(id)).toEqual([null, null]);
  desk.clock.advance(20 * SECOND);
  await visit(inDataCentre(9), page);
  await desk.caughtUp();
  expect(visits()).toEqual([PREFIX]);
  expect(await reasons(id)).toEqual(['opt-out-page', 'opt-out-page']);
  expect((await desk.detail(id)).summary.tally).toMatchObject({ opens: 0, clicks: 0, notCounted: 2 });
});

test('the page to opt out asked for again at once is the same visit; a later day’s takes its place', async () => {
  const page = (await sent()).image.replace('/i/', '/o/').replace('.gif', '');
  const visits = () => desk.sqlite.prepare('select at from opt_out_visit').pluck().all();
  const first = desk.clock.now();
  for (const last of [7, 8, 7]) {
    await visit(inDataCentre(last), page);
    desk.clock.advance(SECOND);
  }
  await desk.caughtUp();
  expect(visits()).toEqual([first]);
  desk.clock.advance(DAY);
  await visit(inDataCentre(7), page);
  await desk.caughtUp();
  expect(visits()).toEqual([desk.clock.now()]);
});

test('of very many networks those seen last are remembered, and those that the user has named', async () => {
  const most = 20_000;
  const now = desk.clock.now();
  const add = desk.sqlite.prepare('insert into network (prefix, filter, people, at, named_as) values (?, 1, 0, ?, ?)');
  desk.sqlite.transaction(() => {
    for (let n = 0; n < most + 3; n += 1) add.run(`network ${n}`, now - most + n, n === 1 ? 'filter' : null);
  })();
  await desk.get(Retention).forget();
  const left = desk.sqlite.prepare('select prefix from network order by at').pluck().all();
  expect(left).toHaveLength(most + 1);
  expect(left.slice(0, 2)).toEqual(['network 1', 'network 3']);
});

test('forgotten readers leave no network behind', async () => {
  const message = await sent();
  await scan(message);
  await visit(inDataCentre(7), message.image.replace('/i/', '/o/').replace('.gif', ''));
  await desk.caughtUp();
  // What was never there would be gone as well.
  for (const table of ['network', 'opt_out_visit'])
    expect(desk.sqlite.prepare(`select * from ${table}`).all()).toHaveLength(1);
  const settings = await desk.json<object>('GET', '/api/settings/privacy');
  await desk.json('PUT', '/api/settings/privacy', { ...settings, forgetReadersDays: 10 });
  desk.clock.advance(11 * DAY);
  await desk.get(Retention).forget();
  expect(desk.sqlite.prepare('select id from event where network_id is not null').all()).toEqual([]);
  expect(desk.sqlite.prepare('select id from network').all()).toEqual([]);
  expect(desk.sqlite.prepare('select * from opt_out_visit').all()).toEqual([]);
});
