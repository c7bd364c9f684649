import { once } from 'node:events';
import { request, type IncomingMessage, type ServerResponse } from 'node:http';
import { connect, Socket } from 'node:net';
import type { RecentEvents } from '@kiraku/core/contract';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { isUncertain, tallyOf } from '@kiraku/core/tracking';
import { DEFAULT_JUDGING } from '@kiraku/server/tracking/choices';
import { ConnectionLimits } from '@kiraku/server/publicSite/connectionLimits';
import { JudgingSettings } from '@kiraku/server/tracking/judging.settings';
import { kinds, READER, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';
import { until } from './until.js';

let id: number;
let image: string;
let link: string;

useDesk('all');
beforeAll(() => {
  desk.clock.stop();
});
beforeEach(async () => {
  mail.received.length = 0;
  id = (await desk.send({})).id;
  await desk.sent(id);
  const trackingUrls = trackingUrlsOf(mail.to('marit@lindqvist.example'));
  image = trackingUrls.image!;
  link = trackingUrls.links[0]!;
  // Nobody reads within two seconds of sending.
  desk.clock.advance(10 * SECOND);
});

const publicSite = () => desk.config.publicUrl;

describe('the image', () => {
  test('is a picture of one pixel that nobody may keep, and its fetch an open', async () => {
    const response = await desk.visit(image);
    expect(response.status).toBe(200);
    expect(response.headers.get('content-type')).toBe('image/gif');
    expect(response.headers.get('cache-control')).toContain('no-store');
    expect(response.headers.get('set-cookie')).toBeNull();
    expect(
      Buffer.from(await response.arrayBuffer())
        .subarray(0, 6)
        .toString(),
    ).toBe('GIF89a');
    const detail = await desk.detail(id);
    expect(detail.summary.tally).toMatchObject({ opens: 1, clicks: 0, notCounted: 0 });
    expect(detail.events[0]).toMatchObject({
      kind: 'opened',
      counted: true,
      ip: '127.0.0.1',
      device: 'computer',
      program: 'Firefox',
      userAgent: READER,
    });
  });

  test('with an unknown token looks the same, and counts nothing', async () => {
    const known = await desk.visit(image);
    const unknown = await desk.visit(`${publicSite()}/i/AAAAAAAAAAAAAAAAAAAAAA.gif`);
    const look = async (response: Response) => [
      response.status,
      response.headers.get('content-type'),
      await response.text(),
    ];
    expect(await look(unknown)).toEqual(await look(known));
    expect(desk.sqlite.prepare('select count(*) from event where message_id = ?').pluck().get(id)).toBe(1);
  });

  test.each(['HEAD', 'OPTIONS'])('asked for by %s is kept, and counts nothing', async (method) => {
    const response = await desk.visit(image, { method });
    expect(response.ok).toBe(true);
    const { events, summary } = await desk.detail(id);
    expect(events).toMatchObject([{ counted: false, reason: 'not-get' }]);
    expect(summary.tally).toMatchObject({ opens: 0, notCounted: 1 });
  });

  test('a link’s token is not an image’s, nor the other way round', async () => {
    await desk.visit(`${publicSite()}/i/${link.split('/').pop()}.gif`);
    expect((await desk.visit(`${publicSite()}/l/${/\/i\/(.+)\.gif/.exec(image)![1]}`)).status).toBe(404);
    expect((await desk.detail(id)).eventsTotal).toBe(0);
  });
});

describe('a redirect', () => {
  test('leads to the true address, and its fetch is a click', async () => {
    const response = await desk.visit(link);
    expect(response.status).toBe(302);
    expect(response.headers.get('location')).toBe('https://tallowreed.example/proposal?a=1&b=2');
    expect(response.headers.get('referrer-policy')).toBe('no-referrer');
    const detail = await desk.detail(id);
    expect(detail.links).toMatchObject([{ text: 'the proposal', clicks: 1 }]);
    expect(kinds(detail.events)).toEqual(['clicked']);
  });

  test('takes no target from the request', async () => {
    for (const attempt of ['?url=https://evil.example', '?next=//evil.example', '#https://evil.example'])
      expect((await desk.visit(link + attempt)).headers.get('location')).toBe(
        'https://tallowreed.example/proposal?a=1&b=2',
      );
    for (const path of ['/l/https://evil.example', '//evil.example', '/l/AAAAAAAAAAAAAAAAAAAAAA', '/l/'])
      expect((await desk.visit(publicSite() + path)).status).toBe(404);
  });

  test('an unknown one is a plain page, with nothing of the request in it', async () => {
    const response = await desk.visit(`${publicSite()}/l/<script>alert(1)</script>`);
    expect(response.status).toBe(404);
    expect(response.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(await response.text()).not.toContain('script>');
  });
});

describe('the public site', () => {
  test.each(['/', '/api/messages', '/api/session', '/api/openapi.json', '/sent', '/index.html', '/i/../../key'])(
    'serves nothing of the desk: %s',
    async (path) => {
      expect((await desk.visit(publicSite() + path)).status).toBe(404);
    },
  );

  test('the desk serves nothing of the public site', async () => {
    const path = new URL(image).pathname;
    const response = await desk.call('GET', path);
    expect(response.headers.get('content-type')).not.toBe('image/gif');
    expect((await desk.detail(id)).eventsTotal).toBe(0);
  });

  test('only reads', async () => {
    expect((await desk.visit(image, { method: 'POST', body: 'x' })).status).toBe(405);
    expect((await desk.detail(id)).eventsTotal).toBe(0);
  });

  test('survives nonsense and huge headers', async () => {
    const { hostname, port } = new URL(publicSite());
    const raw = (text: string) =>
      new Promise<string>((resolve) => {
        const socket = connect(Number(port), hostname, () => socket.end(text));
        let response = '';
        socket.on('data', (chunk) => (response += chunk.toString()));
        socket.on('error', () => resolve(response)).on('close', () => resolve(response));
      });
    expect(await raw('\u0000\u0001 nonsense\r\n\r\n')).toContain('400');
    expect(await raw(`GET / HTTP/1.1\r\nHost: x\r\nX: ${'y'.repeat(20_000)}\r\n\r\n`)).toContain('431');
    expect((await desk.visit(`${publicSite()}/health`)).status).toBe(200);
  });

  test('who asks again and again without reading is shut out for a second, and nobody else', async () => {
    const { hostname, port, pathname } = new URL(image);
    const line = `GET ${pathname} HTTP/1.1\r\nHost: x\r\nUser-Agent: ${READER}\r\n\r\n`;
    const from = (localAddress: string) =>
      connect({ host: hostname, port: Number(port), localAddress })
        .on('error', () => undefined)
        .resume();
    const [polite, silent, greedy] = [from('127.0.0.9'), from('127.0.0.9'), from('127.0.0.9')];
    polite.write(line);
    await once(polite, 'data');
    greedy.write(line.repeat(100));
    await Promise.all([once(greedy, 'close'), once(silent, 'close')]);
    expect((await desk.visit(image)).status).toBe(200);
    // Who sends too much at once is let be for a second; who was there before, and behaved, is not.
    await once(from('127.0.0.9'), 'close');
    polite.write(line);
    await once(polite, 'data');
    polite.destroy();
    await new Promise((resolve) => setTimeout(resolve, 1000));
    const again = from('127.0.0.9');
    again.write(line);
    await once(again, 'data');
    again.destroy();
    const { opens, notCounted } = (await desk.detail(id)).summary.tally;
    // Of a hundred and three looks, those of the greedy one only until it was shut out.
    expect(opens + notCounted).toBeLessThanOrEqual(8);
  });

  test('one address has only so many connections at once; a proxy that was named has more', async () => {
    const { hostname: host, port } = new URL(publicSite());
    const crowd = (localAddress: string) =>
      Array.from({ length: 300 }, () =>
        connect({ host, port: Number(port), localAddress })
          .on('error', () => undefined)
          .resume(),
      );
    const shut = (sockets: Socket[]) => sockets.filter((socket) => socket.closed).length;
    const unnamed = crowd('127.0.0.2');
    await until(() => shut(unnamed) >= 300 - 256);
    expect((await desk.visit(`${publicSite()}/health`)).status).toBe(200);
    expect(shut(unnamed)).toBe(300 - 256);

    await desk.json('PUT', '/api/settings/judging', { ...DEFAULT_JUDGING, proxies: ['127.0.0.3'] });
    const named = crowd('127.0.0.3');
    await Promise.all(named.map((socket) => once(socket, 'connect')));
    expect((await desk.visit(`${publicSite()}/health`)).status).toBe(200);
    expect(shut(named)).toBe(0);
    for (const socket of [...unnamed, ...named]) socket.destroy();
    await desk.json('PUT', '/api/settings/judging', DEFAULT_JUDGING);
  });

  test('a stop answers everybody who is inside, and loses no hit', async () => {
    const visits = Array.from({ length: 50 }, (_, n) =>
      desk.visit(image, { headers: { 'user-agent': `${READER} Stop/${n}` } }).then(
        (response) => response.status,
        () => 0,
      ),
    );
    // Some are answered, and others still inside.
    await Promise.race(visits);
    await desk.close();
    const replied = (await Promise.all(visits)).filter((status) => status === 200).length;
    await desk.open();
    const { opens, notCounted } = (await desk.detail(id)).summary.tally;
    expect(opens + notCounted).toBeGreaterThanOrEqual(replied);
    expect(replied).toBeGreaterThan(0);
  });

  test('keeps a user agent of any length or kind', async () => {
    const { hostname, port, pathname } = new URL(image);
    const agent = `Mozilla/5.0 <script>'"\t${'z'.repeat(5000)}`;
    await new Promise((resolve) =>
      request({ hostname, port, path: pathname, headers: { 'user-agent': agent } }, resolve).end(),
    );
    await desk.caughtUp();
    const [event] = (await desk.detail(id)).events;
    expect(event!.userAgent).toHaveLength(512);
  });
});

describe('counting', () => {
  test('does not count robots, prefetching, repeats and what comes too soon, with the reason', async () => {
    await desk.visit(image, { headers: { 'user-agent': 'ScanBot/2.0 (+https://scan.example/bot)' } });
    await desk.visit(image, { headers: { 'sec-purpose': 'prefetch' } });
    await desk.visit(image);
    await desk.visit(image);
    desk.clock.advance(2 * MINUTE);
    await desk.visit(image);
    const { events, summary } = await desk.detail(id);
    expect(kinds(events)).toEqual(['opened', 'opened (repeat)', 'opened', 'opened (prefetch)', 'opened (robot)']);
    expect(summary.tally).toMatchObject({
      opens: 2,
      notCounted: 3,
      firstOpenAt: events[2]!.at,
      lastOpenAt: events[0]!.at,
    });

    const early = await desk.send({ recipients: [to('early@x.example')] });
    await desk.sent(early.id);
    await desk.visit(trackingUrlsOf(mail.to('early@x.example')).image!);
    expect(kinds((await desk.detail(early.id)).events)).toEqual(['opened (too-soon)']);
  });

  test('many readers at once: every count equals a recount, for copies, links and the message', async () => {
    const people = [to('a@x.example'), to('b@x.example', '', 'cc'), to('c@x.example', '', 'bcc')];
    const many = await desk.send({ recipients: people });
    await desk.sent(many.id);
    desk.clock.advance(10 * SECOND);
    const trackingUrls = people.map(({ address }) => trackingUrlsOf(mail.to(address)));
    const settings = desk.get(JudgingSettings);
    settings.save({ ...settings.view(), proxies: ['127.0.0.1'] });
    await Promise.all(
      Array.from({ length: 300 }, (_, n) => {
        const { image: picture, links } = trackingUrls[n % 3]!;
        const headers = { 'user-agent': `${READER} Reader/${n % 40}`, 'x-forwarded-for': `192.0.2.${n % 120}` };
        return desk.visit(n % 4 === 0 ? links[0]! : picture!, { headers });
      }),
    );
    const detail = await desk.detail(many.id);
    expect(detail.eventsTotal).toBe(300);
    const events = desk.sqlite.prepare('select * from event where message_id = ?').all(many.id) as {
      copy_id: number;
      counted: number;
      kind: 'opened';
      at: number;
      likelihood: number | null;
    }[];
    const recount = (rows: typeof events) =>
      tallyOf(rows.map((row) => ({ ...row, counted: row.counted === 1, uncertain: isUncertain(row) })));
    expect(detail.summary.tally).toEqual(recount(events));
    for (const copy of detail.copies)
      expect(copy.tally).toEqual(recount(events.filter((row) => row.copy_id === copy.id)));
    expect(detail.links[0]!.clicks).toBe(detail.summary.tally.clicks);
    expect(detail.summary.tally.opens).toBeGreaterThan(10);
  });

  test('the last hour lists the activity, oldest first, and forgets it afterwards', async () => {
    await desk.visit(image);
    desk.clock.advance(MINUTE);
    await desk.visit(link);
    const recent = async () =>
      (await desk.json<RecentEvents>('GET', '/api/events/recent')).events.filter((event) => event.messageId === id);
    expect(kinds(await recent())).toEqual(['opened', 'clicked']);
    desk.clock.advance(61 * MINUTE);
    expect(await recent()).toEqual([]);
  });
});

describe('the list', () => {
  test('has the latest activity first, and pages without gap or repetition', async () => {
    const later = await desk.send({ recipients: [to('later@x.example')], subject: 'Later' });
    await desk.sent(later.id);
    desk.clock.advance(10 * SECOND);
    await desk.visit(image);
    const ids: number[] = [];
    let cursor: string | null = '';
    while (cursor !== null) {
      const page: { messages: { id: number; lastActivityAt: number }[]; nextCursor: string | null } = await desk.json(
        'GET',
        `/api/messages?limit=2${cursor && `&cursor=${cursor}`}`,
      );
      ids.push(...page.messages.map((message) => message.id));
      cursor = page.nextCursor;
    }
    expect(ids.slice(0, 2)).toEqual([id, later.id]);
    expect(new Set(ids).size).toBe(ids.length);
  });

  test.each(['/api/messages/999999', '/api/messages/999999/body'])('%s: a message that is not there', async (path) => {
    expect((await desk.call('GET', path)).status).toBe(404);
  });

  test.each(['/api/messages?cursor=x', '/api/messages?limit=0', '/api/messages?limit=1e9', '/api/messages/x'])(
    '%s: nonsense is refused',
    async (path) => {
      expect((await desk.call('GET', path)).status).toBeGreaterThanOrEqual(400);
      expect((await desk.call('GET', path)).status).toBeLessThan(500);
    },
  );
});

describe('slow visitors', () => {
  const SLOW = [
    { name: 'a header that does not come to its end', head: 'GET / HTTP/1.1\r\nHost: x\r\n', drips: false },
    {
      name: 'a body that never comes',
      head: 'POST /o/AAAAAAAAAAAAAAAAAAAAAA HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n\r\n',
      drips: false,
    },
    {
      name: 'a body that comes a letter a second',
      head: 'POST /f/AAAAAAAAAAAAAAAAAAAAAA/reading HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n\r\n',
      drips: true,
    },
  ];

  /** How long somebody’s connection stays open, in milliseconds. */
  async function waitedFor({ head, drips }: (typeof SLOW)[number]): Promise<number> {
    const socket = connect(desk.config.publicPort, '127.0.0.1');
    socket.on('error', () => undefined);
    await once(socket, 'connect');
    socket.write(head);
    const drip = setInterval(() => drips && socket.writable && socket.write('x'), 1000);
    const started = Date.now();
    await once(socket.resume(), 'close');
    clearInterval(drip);
    return Date.now() - started;
  }

  test(`are not waited for: ${SLOW.map(({ name }) => name).join(', ')}`, async () => {
    for (const ms of await Promise.all(SLOW.map(waitedFor))) expect(ms).toBeLessThan(60_000);
    expect((await desk.visit(image)).status).toBe(200);
  });

  test('over a proxy that was named are shut out one by one; over any other address, its network for a second', () => {
    const admitted = (limits: ConnectionLimits) => {
      const socket = new Socket();
      Object.defineProperty(socket, 'remoteAddress', { get: () => (socket.destroyed ? undefined : '192.0.2.7') });
      limits.admit(socket);
      return socket;
    };
    for (const isProxy of [true, false]) {
      const limits = new ConnectionLimits((address) => isProxy && address === '192.0.2.7');
      const [greedy, waiting] = [admitted(limits), admitted(limits)];
      const ask = () =>
        limits.enter({ socket: greedy } as IncomingMessage, { writableFinished: false } as ServerResponse);
      expect([1, 2, 3, 4, 5].map(ask)).toEqual([true, true, true, true, false]);
      const next = admitted(limits);
      expect([greedy, waiting, next].map(({ destroyed }) => destroyed)).toEqual([true, !isProxy, !isProxy]);
    }
  });

  test('are counted by their network, of which somebody with IPv6 has very many addresses', () => {
    const limits = new ConnectionLimits(() => false);
    const admitted = (address: string) => {
      const socket = Object.assign(new Socket(), {});
      Object.defineProperty(socket, 'remoteAddress', { value: address });
      limits.admit(socket);
      return !socket.destroyed;
    };
    const count = (from: (n: number) => string) =>
      Array.from({ length: 400 }, (_, n) => admitted(from(n))).filter(Boolean).length;
    expect(count((n) => `2001:db8:1:2::${n.toString(16)}`)).toBe(256);
    expect(count((n) => `2001:db8:1:${(n + 16).toString(16)}::1`)).toBe(400);
    expect(count(() => '192.0.2.7')).toBe(256);
    expect(count(() => '::ffff:192.0.2.7')).toBe(0);
  });
});

describe('changing one’s mind to and fro', () => {
  const optOut = () => {
    const token = /\/i\/([\w-]{22})\.gif/.exec(image)![1]!;
    return `${publicSite()}/o/${token}`;
  };

  test('is written down once an hour, however often', async () => {
    const post = (query = '') => desk.visit(optOut() + query, { method: 'POST' });
    for (let n = 0; n < 30; n += 1) {
      expect(await (await post()).text()).toMatch(/You have opted out/);
      expect(await (await post('?again')).text()).toMatch(/Opt out of tracking/);
    }
    const optedOut = async () => kinds((await desk.detail(id)).events).filter((kind) => kind === 'opted_out').length;
    expect(await optedOut()).toBe(1);
    desk.clock.advance(61 * MINUTE);
    await post();
    expect(await optedOut()).toBe(2);
    await post('?again');
  });

  test('asks once more on the way back: following a link is not enough', async () => {
    await desk.visit(optOut(), { method: 'POST' });
    const declined = await (await desk.visit(optOut())).text();
    expect(declined).not.toMatch(/<form/);
    const [, href] = /href="([^"]+)"/.exec(declined)!;
    const question = await (await desk.visit(optOut() + href!)).text();
    expect(question).toMatch(/<form method="post" action="\?again">/);
    const state = () => desk.sqlite.prepare('select count(*) from person where opted_out_at is not null').pluck().get();
    expect(state()).toBe(1);
    await desk.visit(`${optOut()}?again`, { method: 'POST' });
    expect(state()).toBe(0);
  });
});
