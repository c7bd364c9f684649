import { readFileSync, statSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import type { SessionView } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { databaseFile } from '@kiraku/server/environment/config';
import { SessionService } from '@kiraku/server/session/session.service';
import { ACCOUNT, Desk, draftContent, MailServer, PASSPHRASE } from './harness.js';
import { until } from './until.js';

let desk: Desk;
beforeAll(async () => {
  desk = await Desk.start();
});
afterAll(() => desk.stop());

const signIn = (passphrase: unknown, headers: Record<string, string> = {}) =>
  fetch(`${desk.url}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', ...headers },
    body: JSON.stringify({ passphrase }),
  });

describe('signing in', () => {
  test.each([
    '/api/messages',
    '/api/drafts',
    '/api/people',
    '/api/events/recent',
    '/api/settings/account',
    '/api/live',
  ])('%s needs it', async (path) => {
    const response = await fetch(desk.url + path);
    expect(response.status).toBe(401);
    expect(response.headers.get('content-type')).toContain('application/problem+json');
  });

  test('gives a cookie that scripts cannot read and other sites do not send', async () => {
    const response = await signIn(PASSPHRASE);
    expect(response.status).toBe(200);
    const cookie = response.headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly/i);
    expect(cookie).toMatch(/SameSite=Strict/i);
    const value = cookie.split(';')[0]!;
    expect((await fetch(`${desk.url}/api/drafts`, { headers: { cookie: value } })).status).toBe(200);
    expect(readFileSync(databaseFile(desk.config)).includes(value.split('=')[1]!)).toBe(false);

    await fetch(`${desk.url}/api/session`, { method: 'DELETE', headers: { cookie: value } });
    expect((await fetch(`${desk.url}/api/drafts`, { headers: { cookie: value } })).status).toBe(401);
  });

  test.each([[''], [null], [['x']], [{ $gt: '' }]])('is not for %j', async (passphrase) => {
    expect([401, 422]).toContain((await signIn(passphrase)).status);
  });
});

describe('another site', () => {
  test.each<[string, Record<string, string>]>([
    ['its origin', { origin: 'https://evil.example' }],
    ['no origin at all', { origin: 'null' }],
    ['no origin header but a cross-site fetch', { 'sec-fetch-site': 'cross-site' }],
  ])('changes nothing, with %s', async (_name, headers) => {
    expect((await desk.call('POST', '/api/drafts', draftContent(), headers)).status).toBe(403);
    expect((await signIn(PASSPHRASE, headers)).status).toBe(403);
  });

  test('the desk’s own page may', async () => {
    expect((await desk.call('POST', '/api/drafts', draftContent(), { origin: desk.url })).status).toBe(201);
  });
});

describe('the account', () => {
  test('keeps its password sealed, and never shows it', async () => {
    const secret = 'felt-and-reed-secret';
    const account = {
      name: 'Ines',
      address: 'i@x.example',
      smtpHost: 'mail.x.example',
      smtpPort: 587,
      smtpSecurity: 'starttls',
      smtpUser: 'ines',
    };
    const saved = await desk.call('PUT', '/api/settings/account', { ...account, smtpPassword: secret });
    expect(await saved.json()).toEqual({ ...account, smtpAuth: 'password', hasSmtpPassword: true });
    await desk.call('PUT', '/api/settings/account', account);
    expect(await desk.json('GET', '/api/settings/account')).toMatchObject({ hasSmtpPassword: true });
    desk.sqlite.pragma('wal_checkpoint(TRUNCATE)');
    expect(readFileSync(databaseFile(desk.config)).includes(secret)).toBe(false);
    expect(statSync(join(desk.config.dataDir, 'key')).mode & 0o777).toBe(0o600);
  });

  test.each([
    ['smtpHost', 'x y'],
    ['smtpPort', 70000],
    ['address', 'ines'],
    ['name', 'a\nb'],
    ['smtpSecurity', 'maybe'],
  ])('refuses a wrong %s', async (field, value) => {
    const response = await desk.call('PUT', '/api/settings/account', { ...ACCOUNT, [field]: value });
    expect(response.status).toBe(422);
    expect(await response.json()).toMatchObject({ errors: [{ field }] });
  });

  describe('tried out', () => {
    const account = { ...ACCOUNT, name: 'I', address: 'i@x.example' };
    const tried = (change: object) =>
      desk.json<{ ok: boolean; words: string }>('POST', '/api/settings/account/try', { ...account, ...change });
    let mail: MailServer;
    afterEach(() => mail?.stop());

    test('says that it works, with a message to oneself, and saves nothing', async () => {
      mail = await MailServer.start();
      const before = await desk.json('GET', '/api/settings/account');
      expect(await tried({ smtpPort: mail.port })).toEqual({ ok: true, words: expect.stringContaining('i@x.example') });
      expect(mail.received[0]).toMatchObject({ from: 'i@x.example', to: ['i@x.example'] });
      expect(await desk.json('GET', '/api/settings/account')).toEqual(before);
    });

    test.each<[string, object, RegExp]>([
      ['no such name', { smtpHost: 'nowhere.invalid' }, /no server named nowhere\.invalid/],
      ['nobody there', { smtpPort: 9 }, /accepts no connections on port 9/],
    ])('%s', async (_name, change, words) => {
      expect(await tried(change)).toEqual({ ok: false, words: expect.stringMatching(words) });
    });

    test('a certificate nobody vouches for', async () => {
      mail = await MailServer.start({ disabledCommands: [] });
      expect(await tried({ smtpPort: mail.port, smtpSecurity: 'starttls' })).toEqual({
        ok: false,
        words: expect.stringMatching(/could not be encrypted: .*certificate/),
      });
    });

    test('a login that is refused, in the server’s words', async () => {
      mail = await MailServer.start({
        authOptional: false,
        allowInsecureAuth: true,
        onAuth: (_auth, _session, callback) =>
          callback(Object.assign(new Error('5.7.8 Wrong password'), { responseCode: 535 })),
      });
      expect(await tried({ smtpPort: mail.port, smtpUser: 'ines', smtpPassword: 'x' })).toEqual({
        ok: false,
        words: expect.stringMatching(/does not accept.*535 5\.7\.8 Wrong password/),
      });
    });

    test('a sender that is refused', async () => {
      mail = await MailServer.start({
        onMailFrom: (_address, _session, callback) =>
          callback(Object.assign(new Error('5.7.1 Not yours'), { responseCode: 550 })),
      });
      expect(await tried({ smtpPort: mail.port })).toEqual({
        ok: false,
        words: expect.stringMatching(/not let you send as i@x\.example.*Not yours/),
      });
    });
  });

  describe('its stored password', () => {
    const stored = { ...ACCOUNT, smtpUser: 'ines', smtpPort: 2525, smtpSecurity: 'none' as const };
    const AGAIN = /Enter the password again/;
    beforeEach(async () => {
      await desk.json('PUT', '/api/settings/account', { ...stored, smtpPassword: 'only for one server' });
    });

    test.each<[string, object]>([
      ['host', { smtpHost: 'localhost' }],
      ['port', { smtpPort: 2526 }],
      ['connection', { smtpSecurity: 'starttls' }],
      ['user', { smtpUser: 'otis' }],
    ])('is neither tried nor kept with another %s', async (_what, change) => {
      for (const [method, path] of [
        ['POST', '/api/settings/account/try'],
        ['PUT', '/api/settings/account'],
      ] as const) {
        const response = await desk.call(method, path, { ...stored, ...change });
        expect(response.status).toBe(422);
        expect(await response.json()).toMatchObject({
          detail: expect.stringMatching(AGAIN),
          errors: [{ field: 'smtpPassword' }],
        });
      }
      expect(await desk.json('GET', '/api/settings/account')).toMatchObject({
        smtpHost: ACCOUNT.smtpHost,
        hasSmtpPassword: true,
      });
    });

    test('goes to no server that is only named, and is entered anew for another', async () => {
      const heard: string[] = [];
      const listener = createServer((socket) => {
        socket.write('220 listening\r\n');
        socket.on('data', (chunk) => heard.push(chunk.toString()));
        socket.on('error', () => undefined);
      });
      await new Promise<void>((resolve) => listener.listen(0, '127.0.0.1', resolve));
      const { port } = listener.address() as AddressInfo;
      await desk.call('POST', '/api/settings/account/try', { ...stored, smtpPort: port });
      expect(heard).toEqual([]);
      const saved = await desk.call('PUT', '/api/settings/account', {
        ...stored,
        smtpPort: port,
        smtpPassword: 'another',
      });
      expect(saved.status).toBe(200);
      listener.close();
    });

    test('is kept where only the name changes', async () => {
      expect(await desk.json('PUT', '/api/settings/account', { ...stored, name: 'I. Valdaro' })).toMatchObject({
        hasSmtpPassword: true,
      });
    });
  });

  test.each(['POST /api/settings/account/try', 'POST /api/settings/mailbox/try'])(
    '%s repeats nothing that some other server says of itself',
    async (route) => {
      const listener = createServer((socket) => {
        socket.write('SSH-2.0-secret-banner of the house\r\n');
        socket.on('error', () => undefined);
        setTimeout(() => socket.end(), 200);
      });
      await new Promise<void>((resolve) => listener.listen(0, '127.0.0.1', resolve));
      const { port } = listener.address() as AddressInfo;
      const [method, path] = route.split(' ') as [string, string];
      const mailbox = {
        way: 'imap',
        host: '127.0.0.1',
        port,
        security: 'none',
        user: 'i',
        password: 'x',
        folders: [],
        storesSent: false,
      };
      const body = path.includes('mailbox') ? mailbox : { ...ACCOUNT, smtpPort: port };
      const trial = await desk.json<{ ok: boolean; words: string }>(method, path, body);
      expect(trial.ok).toBe(false);
      expect(trial.words).not.toMatch(/secret|banner|SSH/);
      listener.close();
    },
  );

  test('logs in at the mail server with the opened password', async () => {
    const seen: string[] = [];
    const mail = await MailServer.start({
      authOptional: false,
      allowInsecureAuth: true,
      onAuth: ({ username, password }, _session, callback) => {
        seen.push(`${username}:${password}`);
        callback(null, { user: username });
      },
    });
    const account = { ...ACCOUNT, smtpPort: mail.port, smtpUser: 'ines', smtpPassword: 'sésame' };
    await desk.call('PUT', '/api/settings/account', account);
    const { id } = await desk.send({});
    expect((await desk.sent(id)).summary.state).toBe('sent');
    expect(seen).toEqual(['ines:sésame']);
    await mail.stop();
  });
});

describe('the page and the API', () => {
  test('carry strict headers', async () => {
    const response = await fetch(`${desk.url}/api/session`);
    const policy = response.headers.get('content-security-policy')!;
    expect(policy).toContain("default-src 'none'");
    expect(policy).toContain("script-src 'self'");
    expect(policy).not.toMatch(/script-src[^;]*unsafe/);
    expect(response.headers.get('x-powered-by')).toBeNull();
    expect(response.headers.get('x-content-type-options')).toBe('nosniff');
  });

  test('the whole API is described', async () => {
    const { paths } = (await (await fetch(`${desk.url}/api/openapi.json`)).json()) as { paths: Record<string, object> };
    expect(Object.keys(paths)).toEqual(
      expect.arrayContaining([
        '/api/session',
        '/api/messages',
        '/api/messages/{id}',
        '/api/drafts/{id}/send',
        '/api/live',
        '/health',
      ]),
    );
  });

  test('an address that is none is a problem in words', async () => {
    const response = await desk.call('GET', '/api/nothing');
    expect(response.status).toBe(404);
    expect(await response.json()).toMatchObject({ title: 'Not found' });
  });
});

describe('set-up', () => {
  const body = (code: string) => ({
    code,
    passphrase: 'three good words',
    account: { ...ACCOUNT, name: 'N', address: 'n@x.example' },
  });
  const setUp = (code: string) =>
    fetch(`${desk.url}/api/session/set-up`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body(code)),
    });

  test('happens once, and only by who can read the terminal', async () => {
    expect((await setUp(desk.get(SessionService).setUpCode)).status).toBe(409);
    desk.sqlite.prepare('delete from setting').run();
    expect((await setUp('guess')).status).toBe(403);
    const done = await setUp(desk.get(SessionService).setUpCode);
    expect(done.status).toBe(200);
    expect(await done.json()).toMatchObject({ setUp: true, signedIn: true, account: { address: 'n@x.example' } });
    expect((await signIn('three good words')).status).toBe(200);
  });

  test('needs no outgoing server yet: what is written waits for one, and says so', async () => {
    desk.sqlite.prepare('delete from setting').run();
    const { account: _whole, ...rest } = body(desk.get(SessionService).setUpCode);
    const request = (account: object) =>
      fetch(`${desk.url}/api/session/set-up`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ ...rest, account }),
      });
    expect((await request({ name: 'N' })).status).toBe(422);
    expect((await request({ name: '', address: 'n@x.example' })).status).toBe(422);
    expect((await request({ name: 'N', address: 'n@x.example', smtpPort: 0 })).status).toBe(422);
    expect(await (await request({ name: 'N', address: 'n@x.example' })).json()).toMatchObject({
      setUpStep: 'outgoing',
      account: { smtpHost: '', smtpPort: 587, smtpSecurity: 'starttls', hasSmtpPassword: false },
    });
    const { id } = await desk.send({});
    await until(() => desk.sqlite.prepare('select count(*) from outbox where attempts > 0').pluck().get() === 1);
    expect((await desk.detail(id)).copies[0]!.lastError).toContain('No outgoing mail server is named yet');
  });

  test('goes on later where it was left, until it is over', async () => {
    const step = async () => (await desk.json<SessionView>('GET', '/api/session')).setUpStep;
    const goTo = async (next: string | null) =>
      (await desk.call('PUT', '/api/settings/set-up-step', { step: next })).status;
    expect(await goTo('replies')).toBe(204);
    expect(await step()).toBe('replies');
    expect(await (await fetch(`${desk.url}/api/session`)).json()).toMatchObject({ setUpStep: null });
    expect(await goTo('elsewhere')).toBe(422);
    expect(await goTo(null)).toBe(204);
    expect(await step()).toBeNull();
  });
});

describe('at the limits', () => {
  test('a session ends by itself after 30 days', async () => {
    const before = desk.get(SessionService).open();
    const cookie = `kiraku_session=${before}`;
    expect((await fetch(`${desk.url}/api/drafts`, { headers: { cookie } })).status).toBe(200);
    desk.clock.advance(31 * DAY);
    expect((await fetch(`${desk.url}/api/drafts`, { headers: { cookie } })).status).toBe(401);
  });

  test('signing in is limited in attempts, even for the right passphrase', async () => {
    const attempts = [];
    for (let i = 0; i < 9; i += 1) attempts.push((await signIn(`guess ${i}`)).status);
    expect(attempts).toContain(401);
    const response = await signIn(PASSPHRASE);
    expect(response.status).toBe(429);
    expect(await response.json()).toMatchObject({ detail: expect.stringMatching(/^Wait \d+ seconds/) });
  });
});
