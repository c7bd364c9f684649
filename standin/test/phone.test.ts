import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import webpush from 'web-push';
import { Phone } from '@kiraku/standin/phone';

const ORIGIN = 'http://127.0.0.1:4620';
const dir = mkdtempSync(join(tmpdir(), 'kiraku-phone-'));
const server = webpush.generateVAPIDKeys();
let phone: Phone;

beforeAll(async () => {
  phone = await Phone.of(join(dir, 'phone.json'));
});
afterAll(() => rmSync(dir, { recursive: true, force: true }));

/** A push as an application server of another make sends it. */
function push(message: object, { keys = server, audience = ORIGIN } = {}) {
  const { endpoint, keys: browser } = phone.subscription(audience);
  const { headers, body } = webpush.generateRequestDetails({ endpoint, keys: browser }, JSON.stringify(message), {
    vapidDetails: { subject: 'mailto:ines@tallowreed.example', ...keys },
    TTL: 60,
  });
  const lower = Object.fromEntries(Object.entries(headers).map(([name, value]) => [name.toLowerCase(), String(value)]));
  return { id: endpoint.split('/').at(-1)!, headers: lower as Record<string, string | undefined>, body: body! };
}
const take = ({ id, headers, body }: ReturnType<typeof push>) => phone.take(id, headers, body, ORIGIN);

test('a message that is signed and encrypted for it is shown, the newest first', () => {
  expect(take(push({ title: 'One', detail: 'first' }))).toBe(201);
  expect(take(push({ title: 'Zwei – 二', detail: '' }))).toBe(201);
  expect(phone.shown.map(({ title }) => title)).toEqual(['Zwei – 二', 'One']);
});

test('it stays the same phone from start to start', async () => {
  const again = await Phone.of(join(dir, 'phone.json'));
  expect(again.subscription(ORIGIN)).toEqual(phone.subscription(ORIGIN));
});

test('what was changed on the way is taken, as a service must, and not shown', () => {
  const before = phone.shown.length;
  const changed = push({ title: 'Changed', detail: '' });
  changed.body[changed.body.length - 1]! ^= 1;
  expect(take(changed)).toBe(201);
  expect(phone.shown).toHaveLength(before);
});

test.each<[string, (good: ReturnType<typeof push>) => ReturnType<typeof push>, number]>([
  ['for another phone', (good) => ({ ...good, id: 'another' }), 404],
  ['without a signature', (good) => ({ ...good, headers: { ...good.headers, authorization: undefined } }), 403],
  [
    'signed by another key than it names',
    (good) => {
      const other = push({ title: 'x', detail: '' }, { keys: webpush.generateVAPIDKeys() });
      const token = /t=([^,]+)/.exec(other.headers['authorization']!)![1];
      const authorization = good.headers['authorization']!.replace(/t=[^,]+/, `t=${token}`);
      return { ...good, headers: { ...good.headers, authorization } };
    },
    403,
  ],
  ['signed for another service', () => push({ title: 'x', detail: '' }, { audience: 'https://push.example' }), 403],
  ['without a time to live', (good) => ({ ...good, headers: { ...good.headers, ttl: undefined } }), 400],
  ['in another coding', (good) => ({ ...good, headers: { ...good.headers, 'content-encoding': 'aesgcm' } }), 400],
])('one that is %s is refused', (_name, spoil, status) => {
  const before = phone.shown.length;
  expect(take(spoil(push({ title: 'Spoilt', detail: '' })))).toBe(status);
  expect(phone.shown).toHaveLength(before);
});
