import type { PasskeyOptions, PasskeyView } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { desk, PASSPHRASE, useDesk } from './harness.js';
import { runProgram } from './processes.js';
import { SoftAuthenticator } from './softAuthenticator.js';

useDesk('each');

const HOST = 'localhost';
const origin = () => `http://${HOST}:${desk.config.port}`;
/** As a browser at the desk’s own page asks. */
const ask = (method: string, path: string, body?: unknown, signedIn = false) =>
  fetch(`${origin()}${path}`, {
    method,
    headers: {
      ...{ origin: origin(), 'content-type': 'application/json' },
      ...(signedIn && desk.headers),
    },
    ...(body !== undefined && { body: JSON.stringify(body) }),
  });
const challengeOf = async (response: Response) => {
  expect(response.status).toBe(200);
  return ((await response.json()) as PasskeyOptions).options as { challenge: string; rpId?: string };
};
const begin = async () =>
  (await challengeOf(await ask('POST', '/api/settings/passkeys', { passphrase: PASSPHRASE }, true))).challenge;
const begun = async () => (await challengeOf(await ask('POST', '/api/session/passkey'))).challenge;
const asked = (challenge: string, change = {}) => ({ challenge, origin: origin(), host: HOST, ...change });
const add = (reply: object, name = 'My phone') => ask('PUT', '/api/settings/passkeys', { name, reply }, true);
const signIn = (reply: object) => ask('PUT', '/api/session/passkey', { reply });

async function withPasskey(): Promise<SoftAuthenticator> {
  const device = new SoftAuthenticator();
  expect((await add(device.made(asked(await begin())))).status).toBe(200);
  return device;
}

test('a passkey signs in, by itself, and no more once it is removed', async () => {
  expect(await (await ask('GET', '/api/session/passkey')).json()).toEqual({ isThere: false });
  const device = await withPasskey();
  expect(await (await ask('GET', '/api/session/passkey')).json()).toEqual({ isThere: true });
  const response = await signIn(device.signed(asked(await begun())));
  expect(response.status).toBe(204);
  const [cookie] = response.headers.getSetCookie();
  expect(cookie).toMatch(/HttpOnly; SameSite=Strict/);
  expect((await fetch(`${desk.url}/api/sessions`, { headers: { cookie: cookie!.split(';')[0]! } })).status).toBe(200);
  const [passkey] = await desk.json<PasskeyView[]>('GET', '/api/settings/passkeys');
  expect(passkey).toMatchObject({ name: 'My phone', host: HOST, lastUsedAt: expect.any(Number) });
  expect(JSON.stringify(passkey)).not.toContain('publicKey');
  await desk.call('DELETE', `/api/settings/passkeys/${passkey!.id}`);
  expect((await signIn(device.signed(asked(await begun())))).status).toBe(401);
});

test('none is added without the passphrase, or by what was not asked for just now', async () => {
  expect((await ask('POST', '/api/settings/passkeys', { passphrase: 'another one' }, true)).status).toBe(401);
  expect((await ask('POST', '/api/settings/passkeys', { passphrase: PASSPHRASE })).status).toBe(401);
  const device = new SoftAuthenticator();
  const challenge = await begin();
  const wrong: [string, object][] = [
    ['another page', device.made(asked(challenge, { origin: 'https://desk.evil.example' }))],
    ['another name', device.made(asked(challenge, { host: 'evil.example' }))],
    ['a challenge of its own', device.made(asked(Buffer.from('made.99999999999999.up').toString('base64url')))],
    ['one for signing in', device.made(asked(await begun()))],
    ['nothing', {}],
  ];
  for (const [what, reply] of wrong) expect([what, (await add(reply)).status]).toEqual([what, 422]);
  device.recognises = false;
  expect((await add(device.made(asked(await begin())))).status).toBe(422);
  expect(await desk.json('GET', '/api/settings/passkeys')).toEqual([]);
});

test('what was said once signs nobody in again, nor what comes late, from elsewhere, or by another key', async () => {
  const device = await withPasskey();
  const reply = device.signed(asked(await begun()));
  expect((await signIn(reply)).status).toBe(204);
  const other = new SoftAuthenticator();
  Object.assign(other, { id: device.id });
  const late = await begun();
  desk.clock.advance(6 * MINUTE);
  const fresh = await begun();
  const wrong: [string, object][] = [
    ['again', reply],
    ['late', device.signed(asked(late))],
    ['from another page', device.signed(asked(fresh, { origin: 'https://desk.evil.example' }))],
    ['for another name', device.signed(asked(fresh, { host: 'evil.example' }))],
    ['by another key', other.signed(asked(fresh))],
  ];
  for (const [what, said] of wrong) {
    desk.clock.advance(2 * MINUTE);
    expect([what, (await signIn(said)).status]).toEqual([what, 401]);
  }
  device.recognises = false;
  expect((await signIn(device.signed(asked(await begun())))).status).toBe(401);
  // A device that has been copied counts on from before.
  device.recognises = true;
  device.counter = 0;
  expect((await signIn(device.signed(asked(await begun())))).status).toBe(401);
});

test('whoever can write the data folder takes them all back', async () => {
  const device = await withPasskey();
  const { code } = await runProgram('resetPassphrase', {
    env: { KIRAKU_DATA: desk.config.dataDir },
    typed: 'reed and felt by moonlight\n',
  });
  expect(code).toBe(0);
  expect((await signIn(device.signed(asked(await begun())))).status).toBe(401);
});
