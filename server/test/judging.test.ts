import type { EventView, JudgingView, MessageDetail } from '@kiraku/core/contract';
import { HOUR, MINUTE, SECOND } from '@kiraku/core/time';
import { isUncertain, tallyOf } from '@kiraku/core/tracking';
import { DEFAULT_JUDGING } from '@kiraku/server/tracking/choices';
import { DATABASE, type Database } from '@kiraku/server/store/database';
import { EventWriter } from '@kiraku/server/tracking/eventWriter';
import { Judging } from '@kiraku/server/tracking/judging';
import { PastActivity } from '@kiraku/server/tracking/pastActivity';
import { Desk, MailServer, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';

const MARIT = 'marit@lindqvist.example';
const JUN = 'jun@lindqvist.example';
const BODY = [1, 2, 3].map((n) => `<p><a href="https://tallowreed.example/${n}">Link ${n}</a></p>`).join('');

let id: number;
let image: string;
let links: string[];

useDesk('all');

beforeEach(async () => {
  await settings({ proxies: ['127.0.0.1'] });
  ({ id } = await desk.send({ html: BODY, recipients: [to(MARIT), to(JUN, '', 'cc')] }));
  await desk.sent(id);
  const trackingUrls = trackingUrlsOf(mail.received.findLast((one) => one.to.includes(MARIT))!);
  image = trackingUrls.image!;
  links = trackingUrls.links;
  desk.clock.advance(HOUR + MINUTE);
  desk.clock.stop();
});

const settings = (change: Partial<JudgingView>) =>
  desk.json<JudgingView>('PUT', '/api/settings/judging', { ...DEFAULT_JUDGING, ...change });

/** A visit over some network, as the named proxy tells it. */
const from = (ip: string, url: string, headers: Record<string, string> = {}, method = 'GET') =>
  desk.visit(url, { method, headers: { 'x-forwarded-for': ip, ...headers } });

const reasons = ({ events }: MessageDetail) => events.map((event) => event.reason).reverse();

const asTallied = (event: EventView) => ({ ...event, uncertain: isUncertain(event) });

/** Every count must be what the events say. */
function expectCounted({ summary, copies, links: shown, events }: MessageDetail): void {
  expect(summary.tally).toEqual(tallyOf(events.map(asTallied)));
  for (const copy of copies)
    expect(copy.tally).toEqual(tallyOf(events.filter((event) => event.copyId === copy.id).map(asTallied)));
  for (const link of shown)
    expect(link.clicks).toBe(events.filter((event) => event.linkId === link.id && event.counted).length);
}

async function rejudge(): Promise<void> {
  await desk.json('POST', '/api/rejudge');
  await desk.get(Judging).done();
}

test('a later hit reveals the earlier ones as a machine’s, and the counts follow', async () => {
  await from('203.0.113.9', image);
  desk.clock.advance(10 * MINUTE);
  await from('198.51.100.7', links[0]!);
  expect((await desk.detail(id)).summary.tally.clicks).toBe(1);
  await Promise.all([links[1]!, links[2]!].map((url) => from('198.51.100.7', url)));

  const detail = await desk.detail(id);
  expect(reasons(detail)).toEqual([null, 'many-links', 'many-links', 'many-links']);
  expect(detail.summary.tally).toMatchObject({ opens: 1, clicks: 0, notCounted: 3 });
  expectCounted(detail);
  expect(detail.summary.lastActivityAt).toBe(detail.summary.tally.lastOpenAt);
});

test('what notified and turned out otherwise is corrected over the live stream', async () => {
  const abort = new AbortController();
  const stream = await fetch(`${desk.url}/api/live`, { headers: desk.headers, signal: abort.signal });
  const reader = stream.body!.pipeThrough(new TextDecoderStream()).getReader();
  await from('198.51.100.7', links[0]!);
  await from('198.51.100.7', links[1]!);
  let text = '';
  while (!/"corrected":\[\{/.test(text)) text += (await reader.read()).value;
  abort.abort();
  const corrected = /"corrected":(\[\{.*?\}\]),"messages"/.exec(text)![1]!;
  expect(JSON.parse(corrected)).toMatchObject([{ reason: 'many-links', counted: false, notifies: false }]);
});

describe('whose open it was', () => {
  test('a network that was named as one’s own, and only that', async () => {
    await settings({ proxies: ['127.0.0.1'], ownNetworks: ['192.0.2.0/24', '2001:db8:5::/48'] });
    await from('192.0.2.77', image);
    await from('2001:db8:5:1::9', image);
    await from('192.0.3.77', image);
    expect(reasons(await desk.detail(id))).toEqual(['own-device', 'own-device', null]);
  });

  test('a browser that was marked by invitation, which holds once', async () => {
    const { url } = await desk.json<{ url: string }>('POST', '/api/settings/own-browser');
    expect((await desk.visit(url, { method: 'HEAD' })).status).toBe(405);
    const welcome = await desk.visit(url);
    const [cookie] = welcome.headers.getSetCookie();
    expect(cookie).toMatch(/^kiraku_mine=[\w-]+; Path=\/; Max-Age=\d+; HttpOnly; SameSite=Lax$/);
    expect((await desk.visit(url)).status).toBe(404);

    const mark = cookie!.split(';')[0]!;
    await from('203.0.113.1', image, { cookie: `other=1; ${mark}` });
    // Another first character than it has.
    const forged = mark.replace(/=(.)/, (_whole, first: string) => (first === 'A' ? '=B' : '=A'));
    await from('203.0.113.2', image, { cookie: forged });
    await from('203.0.113.3', image, { cookie: 'kiraku_mine=nonsense' });
    expect(reasons(await desk.detail(id))).toEqual(['own-device', null, null]);
  });

  test('an invitation is good for ten minutes', async () => {
    const invite = async () => (await desk.json<{ url: string }>('POST', '/api/settings/own-browser')).url;
    const [early, late] = [await invite(), await invite()];
    desk.clock.advance(9.9 * MINUTE);
    expect((await desk.visit(early)).status).toBe(200);
    desk.clock.advance(0.2 * MINUTE);
    const refused = await desk.visit(late);
    expect(refused.status).toBe(404);
    expect(refused.headers.getSetCookie()).toEqual([]);
  });

  test('recipients get no cookie', async () => {
    for (const url of [image, links[0]!]) expect((await desk.visit(url)).headers.getSetCookie()).toEqual([]);
  });

  test('a colleague’s, as was chosen', async () => {
    const sent = await desk.send({ recipients: [to('paula@tallowreed.example')] });
    await desk.sent(sent.id);
    desk.clock.advance(MINUTE);
    const theirs = trackingUrlsOf(mail.received.at(-1)!).image!;
    for (const colleagues of ['count', 'muted', 'not-counted'] as const) {
      await settings({ proxies: ['127.0.0.1'], colleagues });
      await from('203.0.113.1', theirs);
      desk.clock.advance(2 * MINUTE);
    }
    const { events } = await desk.detail(sent.id);
    expect(events.map(({ reason, notifies }) => [reason, notifies]).reverse()).toEqual([
      [null, true],
      [null, false],
      ['colleague', false],
    ]);
  });

  test('an address is trusted only from a proxy that was named', async () => {
    await settings({ ownNetworks: ['192.0.2.0/24'] });
    await from('192.0.2.77', image);
    const { events } = await desk.detail(id);
    expect(events).toMatchObject([{ ip: '127.0.0.1', counted: true }]);
  });
});

test('after the time that was set, activity is not counted; before, they may count and not notify', async () => {
  await settings({ proxies: ['127.0.0.1'], trackForDays: 2, notifyForDays: 1 });
  for (const hours of [10, 20, 30]) {
    desk.clock.advance(hours * HOUR);
    await from('203.0.113.1', image);
  }
  const { events } = await desk.detail(id);
  expect(events.map(({ reason, notifies }) => [reason, notifies]).reverse()).toEqual([
    [null, true],
    [null, false],
    ['late', false],
  ]);
});

test('a reader’s opt-out is respected where that was chosen', async () => {
  await from('203.0.113.1', image, { 'sec-gpc': '1' });
  desk.clock.advance(5 * MINUTE);
  await settings({ proxies: ['127.0.0.1'], respectDnt: true });
  await from('203.0.113.2', image, { dnt: '1' });
  await from('203.0.113.3', image, { dnt: '0' });
  expect(reasons(await desk.detail(id))).toEqual([null, 'dnt', null]);
});

test('the sender’s own verdict stands, also when all is judged anew, until it is left to the rules', async () => {
  await from('203.0.113.1', image);
  await from('203.0.113.2', image, { 'user-agent': 'curl/8.5.0' });
  const [robot, person] = (await desk.detail(id)).events as [EventView, EventView];
  await desk.call('PUT', `/api/events/${person.eventId}/override`, { counted: false });
  await desk.call('PUT', `/api/events/${robot.eventId}/override`, { counted: true });
  const decided = await desk.detail(id);
  expect(reasons(decided)).toEqual(['override', null]);
  expectCounted(decided);

  await rejudge();
  expect(await desk.detail(id)).toEqual(decided);

  for (const { eventId } of decided.events)
    await desk.call('PUT', `/api/events/${eventId}/override`, { counted: null });
  expect(reasons(await desk.detail(id))).toEqual([null, 'robot']);
  expectCounted(await desk.detail(id));
});

test.each([
  ['/api/events/999999/override', { counted: true }, 404],
  ['/api/events/1/override', { counted: 'yes' }, 422],
  ['/api/settings/judging', { ...DEFAULT_JUDGING, ownNetworks: ['192.0.2'] }, 422],
  ['/api/settings/judging', { ...DEFAULT_JUDGING, proxies: ['*'] }, 422],
  ['/api/settings/judging', { ...DEFAULT_JUDGING, trackForDays: 0 }, 422],
])('PUT %s %j is refused', async (path, body, status) => {
  expect((await desk.call('PUT', path, body)).status).toBe(status);
});

test('judged anew after a change, everything is as if it had been so from the start; again, nothing changes', async () => {
  await from('192.0.2.5', image);
  await from('203.0.113.1', links[0]!);
  await from('203.0.113.1', links[0]!);
  const before = await desk.detail(id);
  await settings({ proxies: ['127.0.0.1'], ownNetworks: ['192.0.2.0/24'] });
  await rejudge();
  const after = await desk.detail(id);
  expect(reasons(before)).toEqual([null, null, 'repeat']);
  expect(reasons(after)).toEqual(['own-device', null, 'repeat']);
  expectCounted(after);

  await rejudge();
  expect(await desk.detail(id)).toEqual(after);
  expect(await desk.json('GET', '/api/rejudge')).toEqual({ progress: null });
});

test('judging again goes on where it was when the desk was closed', async () => {
  await from('192.0.2.5', image);
  await settings({ proxies: ['127.0.0.1'], ownNetworks: ['192.0.2.0/24'] });
  await desk.json('POST', '/api/rejudge');
  await desk.close();
  await desk.open();
  await desk.get(Judging).done();
  expect(reasons(await desk.detail(id))).toEqual(['own-device']);
  expect(await desk.json('GET', '/api/rejudge')).toEqual({ progress: null });
});

test('how far judging again has come is committed with what was judged', async () => {
  await from('192.0.2.5', image);
  await settings({ proxies: ['127.0.0.1'], ownNetworks: ['192.0.2.0/24'] });
  const database = desk.get<Database>(DATABASE as never);
  const past = new PastActivity(database);
  const judgeNext = () => past.judgeNext(new EventWriter(database), desk.clock.now());
  const begun = past.begin();
  const broken = database.$client.transaction(() => {
    judgeNext();
    throw new Error('killed');
  });
  expect(broken).toThrow('killed');
  expect(past.progress()).toEqual(begun);
  expect(reasons(await desk.detail(id))).toEqual([null]);

  while (past.progress()) database.$client.transaction(judgeNext)();
  expect(reasons(await desk.detail(id))).toEqual(['own-device']);
  // Nothing is under way, and nothing comes of it.
  expect(judgeNext()).toBe(0);
});

test('what the user has decided meanwhile stays, and what it teaches, though what comes next is judged with it', async () => {
  const hits = () => desk.sqlite.prepare('select override, counted, reason, lesson from event order by id').raw().all();
  await from('198.51.100.7', links[0]!);
  const [{ eventId }] = (await desk.detail(id)).events as [EventView];
  await desk.call('PUT', `/api/events/${eventId}/override`, { counted: true });
  // Others over the same network, at once: without the user it would be a machine’s.
  for (const link of links.slice(1)) await from('198.51.100.7', link);
  expect(hits().at(-3)).toEqual([1, 1, null, 'people']);
  expectCounted(await desk.detail(id));
});

test('a flood is one line, notifies nobody, and leaves others their opens', async () => {
  await Promise.all(Array.from({ length: 300 }, () => from('203.0.113.1', image)));
  await from('203.0.113.2', image);
  const detail = await desk.detail(id);
  const flood = detail.events.filter(({ reason }) => reason === 'flood');
  expect(flood).toMatchObject([{ times: 270, notifies: false }]);
  expect(detail.summary.tally).toMatchObject({ opens: 2, notCounted: 299 });
  expectCounted(detail);
  await rejudge();
  expect(await desk.detail(id)).toEqual(detail);
});

test('who came before the sending was noted is judged by its time once it is', async () => {
  // The server opens the mail at once, and only then says that it has it.
  const scanning = await MailServer.start({
    onData: (stream, _session, callback) => {
      const chunks: Buffer[] = [];
      stream.on('data', (chunk: Buffer) => chunks.push(chunk));
      stream.on('end', async () => {
        const [found] = /http[^"]*\/i\/[\w-]+\.gif/.exec(
          Buffer.concat(chunks).toString().replace(/=\r\n/g, '').replace(/=3D/g, '='),
        )!;
        await from('198.51.100.9', found);
        callback();
      });
    },
  });
  const guarded = await Desk.start(scanning.port);
  const sent = await guarded.send({});
  await guarded.sent(sent.id);
  await guarded.caughtUp();
  const detail = await guarded.detail(sent.id);
  expect(reasons(detail)).toEqual(['too-soon']);
  expect(detail.summary.tally).toMatchObject({ opens: 0, notCounted: 1 });
  await guarded.stop();
  await scanning.stop();
});

test('how long opens count is said of one message alone, also when all is judged anew', async () => {
  const short = await desk.send({ trackForDays: 1, subject: 'Short' });
  await desk.sent(short.id);
  const shortImage = trackingUrlsOf(mail.received.findLast((one) => one.parsed.subject === 'Short')!).image!;
  desk.clock.advance(25 * HOUR);
  await from('203.0.113.1', shortImage);
  await from('203.0.113.1', image);
  expect(await desk.detail(short.id)).toMatchObject({
    trackForDays: 1,
    summary: { tally: { opens: 0, notCounted: 1 } },
  });
  expect(reasons(await desk.detail(short.id))).toEqual(['late']);
  expect(reasons(await desk.detail(id))).toEqual([null]);
  await rejudge();
  expect(reasons(await desk.detail(short.id))).toEqual(['late']);
});

test('readers are told apart, and what looks passed on is said as likely', async () => {
  await from('203.0.113.1', image);
  desk.clock.advance(10 * SECOND);
  const other = {
    'user-agent':
      'Mozilla/5.0 (Macintosh; Intel Mac OS X 10_15_7) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/18.6 Safari/605.1.15',
  };
  await from('198.51.100.1', image, other);
  const [marit] = (await desk.detail(id)).copies;
  expect(marit!.readers).toMatchObject([
    { device: 'computer', system: 'Linux', hits: 1 },
    { device: 'computer', system: 'Mac OS', hits: 1 },
  ]);
  expect(marit!.passedOn).toEqual({ certainty: 'perhaps', reason: '1 other computer on another network' });
});
