import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { LiveUpdate, MissedNotifications, NotificationSettingsView, PushDevice } from '@kiraku/core/contract';
import { DEFAULT_TIME_FORMAT, HOUR, MINUTE } from '@kiraku/core/time';
import { LiveService } from '@kiraku/server/notifications/live.service';
import { OwnMail } from '@kiraku/server/notifications/ownMail';
import { startStandin, type Standin } from '@kiraku/standin/standin';
import { ACCOUNT, Desk, READER, trackingUrlsOf, to, desk, mail, useDesk } from './harness.js';
import { until } from './until.js';

useDesk('all');

const settings = () => desk.json<NotificationSettingsView>('GET', '/api/settings/notifications');
const save = async (part: Partial<NotificationSettingsView>) => {
  const { mutedUntil: _quietUntil, ...view } = await settings();
  return desk.json<NotificationSettingsView>('PUT', '/api/settings/notifications', { ...view, ...part });
};
const missed = () => desk.json<MissedNotifications>('GET', '/api/notifications/missed');
const lookedNow = async () => {
  const [newest] = (await missed()).notifications;
  if (newest) await desk.call('POST', '/api/notifications/seen', { eventId: newest.eventId });
};

/** A message that has arrived with somebody, old enough for opens to count. */
async function arrived(address: string, name: string): Promise<{ id: number; image: string; link: string }> {
  const { id } = await desk.send({ recipients: [to(address, name)], subject: `For ${name}` });
  await desk.sent(id);
  const { image, links } = trackingUrlsOf(mail.to(address));
  desk.clock.advance(10 * MINUTE);
  return { id, image: image!, link: links[0]! };
}

/** What a window is told from now on. */
function listening(): { notifications: LiveUpdate['notifications']; close(): void } {
  const notifications: LiveUpdate['notifications'] = [];
  const subscription = desk.get(LiveService).subscribe(undefined, {
    isReady: () => true,
    send: (_cursor, update) => notifications.push(...update.notifications),
  });
  return { notifications, close: () => subscription.unsubscribe() };
}

test('a window is notified in words, by the channels that are set, and not at all while it is quiet', async () => {
  const { id, image, link } = await arrived('first@notices.example', 'Ada First');
  const window = listening();
  await desk.visit(image);
  await until(() => window.notifications.length === 1);
  expect(window.notifications[0]).toMatchObject({
    kind: 'opened_first',
    path: `/sent/${id}`,
    title: 'Ada First opened “For Ada First”',
    by: ['page', 'desktop', 'push'],
  });
  const before = await settings();
  await save({ channels: { ...before.channels, clicked: ['sound'] } });
  desk.clock.advance(2 * MINUTE);
  await desk.visit(link);
  await until(() => window.notifications.length === 2);
  expect(window.notifications[1]).toMatchObject({ kind: 'clicked', by: ['sound'] });

  await desk.json('PUT', '/api/settings/notifications/mute', { until: desk.clock.now() + HOUR });
  desk.clock.advance(HOUR - MINUTE);
  await desk.visit(image);
  await until(() => window.notifications.length === 3);
  expect(window.notifications[2]).toMatchObject({ kind: 'opened_again', by: [] });
  desk.clock.advance(HOUR);
  await desk.visit(image);
  await until(() => window.notifications.length === 4);
  expect(window.notifications[3]).toMatchObject({ kind: 'opened_again', by: ['page'] });
  window.close();
});

test('what nobody saw is listed once, the latest of a burst only, and outlives a restart', async () => {
  await lookedNow();
  const { id, image } = await arrived('missed@notices.example', 'Bo Missed');
  for (const waitMs of [0, 3 * MINUTE, 3 * MINUTE]) {
    desk.clock.advance(waitMs);
    await desk.visit(image, { headers: { 'user-agent': `${READER} Reading/${waitMs}` } });
  }
  await desk.close();
  await desk.open();
  const { notifications, leftOut } = await missed();
  expect(leftOut).toBe(0);
  expect(notifications).toMatchObject([{ path: `/sent/${id}`, title: expect.stringContaining('Bo Missed') }]);
  await lookedNow();
  expect((await missed()).notifications).toEqual([]);
});

test('a muted message is not listed', async () => {
  const { id, image } = await arrived('silent@notices.example', 'Cy Silent');
  await desk.call('POST', '/api/messages/actions', { ids: [id], action: 'mute' });
  await desk.visit(image);
  expect((await missed()).notifications).toEqual([]);
});

test('what was wrongly muted is refused with words', async () => {
  const { mutedUntil: _quietUntil, ...view } = await settings();
  const refused = [
    [{ ...view, quietHours: { from: '25:00', to: '07:00' } }, 'Write times like 07:30 or 22:00'],
    [{ ...view, zone: 'Nowhere/Land' }, 'Name the time zone like Europe/Helsinki'],
    [
      { ...view, channels: { ...view.channels, clicked: ['trumpet'] } },
      'Clicked: a list of page, desktop, push, sound, email',
    ],
  ] as const;
  for (const [body, words] of refused) {
    const response = await desk.call('PUT', '/api/settings/notifications', body);
    expect([response.status, await response.text()]).toEqual([422, expect.stringContaining(words)]);
  }
  const past = await desk.call('PUT', '/api/settings/notifications/mute', { until: desk.clock.now() - 1 });
  expect(past.status).toBe(422);
});

test('what happens before any window was ever open is missed, too', async () => {
  const fresh = await Desk.start(mail.port);
  const { id } = await fresh.send({ recipients: [to('early@notices.example', 'Ida Early')] });
  await fresh.sent(id);
  fresh.clock.advance(10 * MINUTE);
  await fresh.visit(trackingUrlsOf(mail.to('early@notices.example')).image!);
  const { notifications } = await fresh.json<MissedNotifications>('GET', '/api/notifications/missed');
  expect(notifications).toMatchObject([{ path: `/sent/${id}`, kind: 'opened_first' }]);
  await fresh.stop();
});

describe('by mail to oneself', () => {
  const toMyself = () => mail.received.filter((one) => one.to.includes(ACCOUNT.address));
  const look = () => desk.get(OwnMail).check();

  test('what nobody saw for a minute is written, once, and what was seen is not', async () => {
    await lookedNow();
    const { channels } = await settings();
    await save({ channels: { ...channels, opened_first: ['page', 'email'] } });
    const { id, image } = await arrived('away@notices.example', 'Dee Away');
    await desk.visit(image);
    await look();
    expect(toMyself()).toHaveLength(0);
    desk.clock.advance(MINUTE);
    await look();
    await look();
    expect(toMyself()).toHaveLength(1);
    const [{ parsed, from }] = toMyself() as [(typeof mail.received)[0]];
    expect(from).toBe(ACCOUNT.address);
    expect(parsed.subject).toBe('Dee Away opened “For Dee Away”');
    expect(parsed.text).toContain(`${desk.url}/sent/${id}`);
    expect(parsed.headers.get('auto-submitted')).toBe('auto-generated');

    const seen = await arrived('seen@notices.example', 'Eve Seen');
    await desk.visit(seen.image);
    await lookedNow();
    desk.clock.advance(MINUTE);
    await look();
    expect(toMyself()).toHaveLength(1);
  });

  test('a mail server that refuses is asked again later', async () => {
    const { image } = await arrived('again@notices.example', 'Fay Again');
    await desk.visit(image);
    desk.clock.advance(MINUTE);
    mail.refusals.set(ACCOUNT.address, { responseCode: 451, message: 'Later' });
    await look();
    mail.refusals.delete(ACCOUNT.address);
    expect(toMyself()).toHaveLength(1);
    await look();
    expect(toMyself().at(-1)!.parsed.subject).toBe('Fay Again opened “For Fay Again”');
  });

  test('times in it are written as the user reads them', async () => {
    const before = toMyself().length;
    const write = async (clock: string, address: string) => {
      const format = { clock, dateOrder: 'month-day', firstDay: 0, isChosen: true };
      expect((await desk.call('PUT', '/api/settings/time-format', format)).status).toBe(204);
      await desk.visit((await arrived(address, 'Hal Clock')).image);
      desk.clock.advance(MINUTE);
      await look();
      return toMyself().at(-1)!.parsed.text;
    };
    expect(await write('12h', 'twelve@notices.example')).toMatch(
      /[A-Z][a-z]{2} \d{1,2}, 20\d\d, \d{1,2}:\d\d:\d\d [AP]M/,
    );
    expect(await write('24h', 'twentyfour@notices.example')).toMatch(/20\d\d, \d\d:\d\d:\d\d\./);
    expect(toMyself()).toHaveLength(before + 2);
    await desk.call('PUT', '/api/settings/time-format', { ...DEFAULT_TIME_FORMAT, isChosen: false });
  });
});

describe('by a push service', () => {
  const dataDir = mkdtempSync(join(tmpdir(), 'kiraku-push-'));
  let outside: Standin;
  beforeAll(async () => {
    outside = await startStandin({ dataDir, port: 0, smtpPort: 0, lmtpPort: 9 });
  });
  afterAll(async () => {
    await outside.close();
    rmSync(dataDir, { recursive: true, force: true });
  });

  const origin = () => `http://127.0.0.1:${outside.port}`;
  const shown = async () => (await fetch(`${origin()}/phone`)).text();
  const devices = async () => (await desk.json<{ devices: PushDevice[] }>('GET', '/api/settings/push')).devices;

  test('a device that was registered is notified, signed and encrypted, and can be let go', async () => {
    const { endpoint, keys } = (await (await fetch(`${origin()}/phone/subscription`)).json()) as {
      endpoint: string;
      keys: { p256dh: string; auth: string };
    };
    const { id } = await desk.json<{ id: number }>('POST', '/api/settings/push/devices', {
      name: 'A phone',
      endpoint,
      ...keys,
    });
    // The same browser again is the same device.
    expect(await desk.json('POST', '/api/settings/push/devices', { name: 'A phone', endpoint, ...keys })).toEqual({
      id,
    });
    expect((await desk.call('POST', `/api/settings/push/devices/${id}/trial`)).status).toBe(204);
    expect(await shown()).toContain('Notifications work on this device');

    const { channels } = await settings();
    await save({ channels: { ...channels, opened_first: ['push'] } });
    const { image } = await arrived('push@notices.example', 'Gil Push');
    await desk.visit(image);
    for (let patience = 0; !(await shown()).includes('Gil Push opened “For Gil Push”'); patience += 1) {
      if (patience > 300) throw new Error('Never told');
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect((await devices())[0]!.notifiedAt).not.toBeNull();
    expect((await desk.call('DELETE', `/api/settings/push/devices/${id}`)).status).toBe(204);
    expect(await devices()).toEqual([]);
  });

  test('a device that its service does not know any more is forgotten; wrong addresses are refused', async () => {
    const { keys } = (await (await fetch(`${origin()}/phone/subscription`)).json()) as {
      keys: { p256dh: string; auth: string };
    };
    const gone = await desk.json<{ id: number }>('POST', '/api/settings/push/devices', {
      name: 'Gone',
      endpoint: `${origin()}/push/nobody`,
      ...keys,
    });
    const trial = await desk.call('POST', `/api/settings/push/devices/${gone.id}/trial`);
    expect([trial.status, await trial.text()]).toEqual([422, expect.stringContaining('returned 404')]);
    expect(await devices()).toEqual([]);
    const plain = await desk.call('POST', '/api/settings/push/devices', {
      name: 'Plain',
      endpoint: 'http://push.example/1',
      ...keys,
    });
    expect(plain.status).toBe(422);
  });

  test('the push service takes nothing unsigned, for nobody, or too large', async () => {
    const { endpoint } = (await (await fetch(`${origin()}/phone/subscription`)).json()) as { endpoint: string };
    const post = (body: string, headers: Record<string, string> = {}) =>
      fetch(endpoint, { method: 'POST', body, headers: { ttl: '60', 'content-encoding': 'aes128gcm', ...headers } });
    expect((await post('x')).status).toBe(403);
    expect((await post('x', { authorization: 'vapid t=a.b.c, k=d' })).status).toBe(403);
    expect((await post('x'.repeat(5000))).status).toBe(413);
  });
});
