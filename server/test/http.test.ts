import { request, type IncomingHttpHeaders } from 'node:http';
import { DAY } from '@kiraku/core/time';
import { SessionService } from '@kiraku/server/session/session.service';
import { Desk, draftContent, PASSPHRASE } from './harness.js';

let desk: Desk;
beforeAll(async () => {
  desk = await Desk.start(9, { deskUrls: ['https://desk.company.example'] });
});
afterAll(() => desk.stop());

interface HttpResponse {
  status: number;
  headers: IncomingHttpHeaders;
  body: string;
}

/** A request with any headers, the host's name among them. */
function ask(
  method: string,
  path: string,
  headers: Record<string, string | string[]> = {},
  body?: string | Buffer,
): Promise<HttpResponse> {
  return new Promise((resolve, reject) => {
    const asked = request(desk.url + path, { method, headers, agent: false }, (response) => {
      let text = '';
      response.on('data', (chunk: Buffer) => (text += chunk.toString()));
      response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, body: text }));
      // A stream goes on: its head is enough.
      if (String(response.headers['content-type']).startsWith('text/event-stream')) {
        resolve({ status: response.statusCode!, headers: response.headers, body: '' });
        asked.destroy();
      }
    });
    asked.on('error', reject);
    asked.end(body);
  });
}

const JSON_TYPE = { 'content-type': 'application/json' };
const brackets = (count: number) => '['.repeat(count) + ']'.repeat(count);
const keys = (count: number) => `{${Array.from({ length: count }, (_, n) => `"k${n}":1`).join()}}`;

describe('what a body may be', () => {
  test.each<[name: string, path: string, body: string, status: number]>([
    ['five megabytes of brackets, to sign in', '/api/session', brackets(2_500_000), 413],
    ['eighty thousand keys, to sign in', '/api/session', keys(80_000), 413],
    ['brackets within the limit, to sign in', '/api/session', brackets(4000), 400],
    ['brackets within the limit, to set up', '/api/session/set-up', brackets(4000), 400],
    ['anything large, where one must be signed in', '/api/drafts', brackets(2_500_000), 401],
    ['anything small, where one must be signed in', '/api/drafts', '{}', 401],
  ])('%s: answered in words, at once', async (_name, path, body, status) => {
    const response = await ask('POST', path, JSON_TYPE, body);
    expect(response.status).toBe(status);
    expect(response.headers['content-type']).toContain('application/problem+json');
    expect((JSON.parse(response.body) as { detail: string }).detail).toMatch(/\.$/);
  });

  test.each<[name: string, body: string]>([
    ['deep nesting', brackets(5000)],
    ['very many keys', keys(80_000)],
    ['very many values', `[${'1,'.repeat(60_000)}1]`],
    ['nesting behind a string with brackets', `{"a":"]]]\\"]]","b":${brackets(17)}}`],
  ])('%s is refused of who is signed in, too', async (_name, body) => {
    const response = await ask('POST', '/api/drafts', { ...JSON_TYPE, ...desk.headers }, body);
    expect(response.status).toBe(400);
    expect(response.body).toMatch(/more than \d+ (levels|keys|values)/);
  });

  test('what only looks like nesting, in strings, is taken', async () => {
    const draft = draftContent({ html: `<p>${'[{'.repeat(500)}\\"\u2028</p>` });
    expect((await desk.call('POST', '/api/drafts', draft)).status).toBe(201);
  });
});

describe('the name that is asked for', () => {
  test.each([
    ['evil.example'],
    ['localhost.evil.example'],
    ['127.0.0.1.evil.example'],
    ['evil.example:4600'],
    ['169.254.1.1'],
    ['desk.company.example.evil.example'],
    ['a b'],
    ['127.0.0.1@evil.example'],
  ])('“%s” gets nothing, whatever it asks for', async (host) => {
    for (const [method, path] of [
      ['GET', '/'],
      ['GET', '/api/session'],
      ['POST', '/api/session'],
      ['GET', '/api/live'],
      ['GET', '/api/openapi.json'],
      ['GET', '/health'],
    ] as const)
      expect([path, (await ask(method, path, { host, ...desk.headers })).status]).toEqual([path, 421]);
  });

  test.each([
    '127.0.0.1',
    '127.0.0.1:4600',
    'localhost:4600',
    '[::1]:4600',
    'kiraku.localhost',
    'desk.company.example',
  ])('“%s” is answered', async (host) => {
    expect((await ask('GET', '/api/session', { host })).status).toBe(200);
  });

  test('by the name that is served over TLS, the cookie is for TLS alone', async () => {
    const body = JSON.stringify({ passphrase: PASSPHRASE });
    const tls = await ask('POST', '/api/session', { ...JSON_TYPE, host: 'desk.company.example' }, body);
    expect(tls.headers['set-cookie']![0]).toMatch(/; Secure/);
    const plain = await ask('POST', '/api/session', JSON_TYPE, body);
    expect(plain.headers['set-cookie']![0]).not.toMatch(/Secure/);
  });
});

describe('every route of the API', () => {
  interface OpenApi {
    paths: Record<string, Record<string, unknown>>;
  }
  /** For whom no sign-in is needed, with why. */
  const OPEN: Record<string, string> = {
    'GET /health': 'tells that it works, and nothing else',
    'GET /api/session': 'tells whether one is signed in',
    'POST /api/session': 'signs in',
    'DELETE /api/session': 'signs out',
    'POST /api/session/set-up': 'asks for the code from the terminal',
    'GET /api/session/passkey': 'tells whether there is one, for the button',
    'POST /api/session/passkey': 'asks for a passkey',
    'PUT /api/session/passkey': 'signs in with it',
    'GET /api/calendar/{key}': 'has a secret address',
  };
  /** What the description leaves out: a protocol of its own. */
  const UPLOADS: [method: string, path: string][] = [['OPTIONS', '/api/uploads']];

  async function routes(): Promise<[method: string, path: string][]> {
    const { paths } = JSON.parse((await ask('GET', '/api/openapi.json')).body) as OpenApi;
    const described = Object.entries(paths).flatMap(([path, methods]) =>
      Object.keys(methods).map((method): [string, string] => [method.toUpperCase(), path]),
    );
    return [...described, ...UPLOADS];
  }
  const filled = (path: string) => path.replace(/\{[^}]+\}/g, '1');

  test('needs a session, but for those that are meant for everybody', async () => {
    const all = await routes();
    expect(all.length).toBeGreaterThan(100);
    const replies = [];
    for (const [method, path] of all)
      replies.push([`${method} ${path}`, (await ask(method, filled(path), { 'tus-resumable': '1.0.0' })).status]);
    const open = replies.filter(([, status]) => status !== 401).map(([route]) => route as string);
    expect(open.sort()).toEqual(Object.keys(OPEN).sort());
  });

  test('takes no change from a page of another site, with a session or without', async () => {
    const foreign = { origin: 'https://evil.example', 'tus-resumable': '1.0.0' };
    for (const [method, path] of await routes()) {
      if (method === 'GET' || method === 'HEAD') continue;
      for (const headers of [
        foreign,
        { ...foreign, ...desk.headers },
        { ...desk.headers, 'sec-fetch-site': 'cross-site' },
      ])
        expect([method, path, (await ask(method, filled(path), headers)).status]).toEqual([method, path, 403]);
    }
  });

  test('keeps what it answers out of caches', async () => {
    for (const path of [
      '/api/session',
      '/api/settings/account',
      '/api/drafts',
      '/api/messages',
      '/api/people',
      '/api/nothing',
    ])
      expect([path, (await ask('GET', path, desk.headers)).headers['cache-control']]).toEqual([path, 'no-store']);
  });

  test.each(['j:{"a":1}', 'j:[1]', 's:x.y', '%E0%A4%A', 'a=b', '"', ''])(
    'takes a session of %j for none',
    async (value) => {
      expect((await ask('GET', '/api/drafts', { cookie: `kiraku_session=${value}` })).status).toBe(401);
      expect((await ask('DELETE', '/api/session', { cookie: `kiraku_session=${value}; x` })).status).toBe(200);
    },
  );
});

describe('guessing the passphrase', () => {
  let attacked: Desk;
  beforeEach(async () => {
    attacked = await Desk.start(9, { deskProxies: ['127.0.0.1'] });
  });
  afterEach(() => attacked.stop());
  const SET_UP = { code: 'x', passphrase: 'three good words', account: { name: 'I', address: 'i@x.example' } };
  const guess = (at: Desk, from: string, path = '/api/session') =>
    fetch(at.url + path, {
      method: 'POST',
      headers: { ...JSON_TYPE, 'x-forwarded-for': from },
      body: JSON.stringify(path === '/api/session' ? { passphrase: 'guess' } : SET_UP),
    });

  test('is not made endless by the name of another address', async () => {
    const statuses = [];
    for (let n = 0; n < 12; n += 1) statuses.push((await guess(desk, `192.0.2.${n}`)).status);
    expect(statuses.slice(-3)).toEqual([429, 429, 429]);
  });

  test('is counted for each address that a named proxy speaks for, a network of IPv6 as one', async () => {
    const statuses = async (from: (n: number) => string) => {
      const all = [];
      for (let n = 0; n < 9; n += 1) all.push((await guess(attacked, from(n), '/api/session/set-up')).status);
      return all;
    };
    attacked.sqlite.prepare("delete from setting where key = 'passphrase'").run();
    expect(await statuses(() => '192.0.2.1')).toEqual([...Array<number>(8).fill(403), 429]);
    expect(await statuses((n) => `2001:db8::${n}`)).toEqual([...Array<number>(8).fill(403), 429]);
    expect((await guess(attacked, '192.0.2.2', '/api/session/set-up')).status).toBe(403);
  });

  test('from very many addresses comes to its end, too', async () => {
    attacked.sqlite.prepare("delete from setting where key = 'passphrase'").run();
    const statuses = [];
    for (let n = 0; n < 130; n += 1)
      statuses.push((await guess(attacked, `198.51.100.${n}`, '/api/session/set-up')).status);
    expect(statuses.slice(0, 90)).toEqual(Array<number>(90).fill(403));
    expect(statuses.at(-1)).toBe(429);
  });

  test('costs one hash at a time: of forty at once most are refused, and the public site goes on', async () => {
    const guesses = Promise.all(Array.from({ length: 40 }, (_, n) => guess(attacked, `203.0.113.${n}`)));
    const visits = [];
    for (let n = 0; n < 5; n += 1) visits.push((await fetch(`${attacked.config.publicUrl}/health`)).status);
    expect(visits).toEqual([200, 200, 200, 200, 200]);
    const statuses = (await guesses).map(({ status }) => status);
    expect(statuses.filter((status) => status === 429).length).toBeGreaterThanOrEqual(30);
    expect(statuses.filter((status) => status === 401).length).toBeGreaterThanOrEqual(1);
  });
});

describe('sessions', () => {
  const open = (userAgent = '') => `kiraku_session=${desk.get(SessionService).open(userAgent)}`;
  const status = async (cookie: string) => (await ask('GET', '/api/drafts', { cookie })).status;
  const FIREFOX = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';

  test('are listed with what they are used by, and ended one by one', async () => {
    const [ownDevice, other] = [open(FIREFOX), open()];
    const list = JSON.parse((await ask('GET', '/api/sessions', { cookie: ownDevice })).body) as {
      id: string;
      isThis: boolean;
      program: string | null;
    }[];
    expect(list.filter(({ isThis }) => isThis)).toMatchObject([{ program: 'Firefox', device: 'computer' }]);
    const { id } = list.find(({ isThis, program }) => !isThis && program === null)!;
    expect(other).not.toContain(id);
    const before = [await status(ownDevice), await status(other)];
    expect(before).toEqual([200, 200]);
    for (const one of list.filter(({ isThis }) => !isThis))
      expect((await ask('DELETE', `/api/sessions/${one.id}`, { cookie: ownDevice })).status).toBe(204);
    expect([await status(ownDevice), await status(other)]).toEqual([200, 401]);
    expect((await ask('DELETE', '/api/sessions/nobody', { cookie: ownDevice })).status).toBe(404);
    expect((await ask('DELETE', '/api/sessions/%25', { cookie: ownDevice })).status).toBe(404);
  });

  test('all end at once, and streams with them', async () => {
    const [ownDevice, other] = [open(), open()];
    const ended = new Promise<void>((resolve, reject) => {
      const stream = request(`${desk.url}/api/live`, { headers: { cookie: other }, agent: false }, (response) => {
        response.resume().on('end', resolve).on('error', reject);
        void ask('DELETE', '/api/sessions', { cookie: ownDevice });
      });
      stream.on('error', reject);
      stream.end();
    });
    const before = Date.now();
    await ended;
    // At once, not with the next beat.
    expect(Date.now() - before).toBeLessThan(10_000);
    expect([await status(ownDevice), await status(other)]).toEqual([401, 401]);
  });

  test('end when nobody uses them', async () => {
    const [used, idle] = [open(), open()];
    for (let n = 0; n < 3; n += 1) {
      desk.clock.advance(6 * DAY);
      expect(await status(used)).toBe(200);
    }
    expect(await status(idle)).toBe(401);
  });

  test('end with the passphrase, but for the one that changed it', async () => {
    const own = await Desk.start();
    const send = (body: object, cookie: string) =>
      fetch(`${own.url}/api/settings/passphrase`, {
        method: 'PUT',
        headers: { ...JSON_TYPE, cookie },
        body: JSON.stringify(body),
      });
    const session = () => `kiraku_session=${own.get(SessionService).open()}`;
    const [ownDevice, other] = [session(), session()];
    const next = 'felt curtains by moonlight';
    expect((await send({ current: 'wrong', next }, ownDevice)).status).toBe(401);
    for (const common of ['password123', 'iloveyou1', 'qwertyuiop', 'Valdaro1', 'short'])
      expect([common, (await send({ current: PASSPHRASE, next: common }, ownDevice)).status]).toEqual([common, 422]);
    expect((await fetch(`${own.url}/api/drafts`, { headers: { cookie: other } })).status).toBe(200);
    expect((await send({ current: PASSPHRASE, next }, ownDevice)).status).toBe(204);
    expect((await fetch(`${own.url}/api/drafts`, { headers: { cookie: ownDevice } })).status).toBe(200);
    expect((await fetch(`${own.url}/api/drafts`, { headers: { cookie: other } })).status).toBe(401);
    const signIn = (passphrase: string) =>
      fetch(`${own.url}/api/session`, { method: 'POST', headers: JSON_TYPE, body: JSON.stringify({ passphrase }) });
    expect((await signIn(PASSPHRASE)).status).toBe(401);
    expect((await signIn(next)).status).toBe(200);
    await own.stop();
  });
});
