import { spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { createServer, type AddressInfo } from 'node:net';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CheckName, CheckView, CheckupView, LiveUpdate } from '@kiraku/core/contract';
import { CHECK_NAMES } from '@kiraku/core/contract';
import { DAY, HOUR, MINUTE } from '@kiraku/core/time';
import { CheckupService } from '@kiraku/server/checkup/checkup.service';
import { Dns } from '@kiraku/server/checkup/dns';
import { MachineChecks } from '@kiraku/server/checkup/machineChecks';
import { LiveService } from '@kiraku/server/notifications/live.service';
import { AccountService } from '@kiraku/server/settings/account.service';
import { openDatabase } from '@kiraku/server/store/database';
import { Works } from '@kiraku/server/work/works';
import { freePort } from '../freePort.js';
import { ACCOUNT, desk, mail, MailServer, to, trackingUrlsOf, useDesk } from '../harness.js';
import { NameServer } from '../nameServer.js';
import { runProgram } from '../processes.js';
import { until } from '../until.js';

useDesk('each');

let dns: NameServer;
beforeEach(async () => {
  dns = await NameServer.start();
  desk.get(Dns).resolver.setServers([dns.address]);
});
afterEach(() => dns.stop());

async function checked(): Promise<Record<CheckName, CheckView>> {
  await desk.json<CheckupView>('POST', '/api/check-up');
  await desk.get(CheckupService).wake();
  const { checks, isUnderWay } = await desk.json<CheckupView>('GET', '/api/check-up');
  expect(isUnderWay).toBe(false);
  return Object.fromEntries(checks.map((check) => [check.name, check])) as Record<CheckName, CheckView>;
}
const sendAs = (address: string, change = {}) =>
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: mail.port, address, ...change });
const DOMAIN = 'reedandfelt.org';

test('everything is checked, and nothing is left out', async () => {
  await checked();
  const { checks } = await desk.json<CheckupView>('GET', '/api/check-up');
  expect(checks.map(({ name }) => name).sort()).toEqual([...CHECK_NAMES].sort());
  expect(checks.filter(({ state }) => state === 'failing')).toEqual([]);
});

test('outgoing mail: broken and mended, since when, and who is told', async () => {
  const updates: LiveUpdate[] = [];
  const live = desk
    .get(LiveService)
    .subscribe(undefined, { isReady: () => true, send: (_at, update) => updates.push(update) });
  const { outgoing: before } = await checked();
  expect(before).toMatchObject({ state: 'ok', detail: '127.0.0.1 accepts your mail.' });
  desk.clock.advance(HOUR);
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: 9 });
  const { outgoing: broken } = await checked();
  expect(broken).toMatchObject({
    state: 'failing',
    detail: expect.stringContaining('accepts no connections on port 9'),
  });
  expect(broken.since).toBeGreaterThanOrEqual(before.at + HOUR);
  await until(() => updates.some(({ notifications }) => notifications.length > 0));
  const notified = updates.flatMap(({ notifications }) => notifications);
  expect(notified).toMatchObject([
    { kind: 'check_failed', title: 'Outgoing mail: does not work', path: '/settings/check-up' },
  ]);
  // It is no list of drafts that has changed.
  expect(updates.filter(({ notifications }) => notifications.length > 0).map((one) => one.draftsChanged)).toEqual([
    false,
  ]);
  desk.clock.advance(HOUR);
  const { outgoing: still } = await checked();
  expect([still.since, still.at > still.since]).toEqual([broken.since, true]);
  sendAs(ACCOUNT.address);
  const { outgoing: mended } = await checked();
  expect(mended).toMatchObject({ state: 'ok', since: mended.at });
  await desk.send({});
  expect(updates.flatMap(({ notifications }) => notifications)).toHaveLength(1);
  live.unsubscribe();
});

test('a mail server that says nothing holds nobody up for long', async () => {
  const silent = createServer((socket) => void setTimeout(() => socket.write('220 x\r\n'), 100)).listen(0, '127.0.0.1');
  await once(silent, 'listening');
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: (silent.address() as AddressInfo).port });
  const { outgoing, disk } = await checked();
  expect(outgoing).toMatchObject({ state: 'unknown', detail: expect.stringContaining('did not respond in time') });
  expect(disk.state).toBe('ok');
  silent.close();
});

test('a wrong password is told from a server that is not there', async () => {
  const refusing = await MailServer.start({
    authOptional: false,
    onAuth: (_auth, _session, done) => done(new Error('535 No')),
  });
  sendAs(ACCOUNT.address, { smtpPort: refusing.port, smtpUser: 'ines', smtpPassword: 'wrong' });
  expect((await checked()).outgoing.detail).toContain('does not accept this user name and password');
  await refusing.stop();
});

test('what turned bad goes by email, once, and not where it works again', async () => {
  await checked();
  writeFileSync(desk.config.backupDir, 'a file is in its way');
  await desk.call('PUT', '/api/settings/backup/passphrase', { passphrase: 'quilted lamp over harbour' });
  await until(async () => (await checked()).backup.state === 'failing');
  await until(() => mail.received.length === 1);
  expect(mail.received[0]!.parsed).toMatchObject({
    subject: 'Backups: does not work',
    text: expect.stringContaining('/settings/check-up'),
  });
  await checked();
  expect(mail.received).toHaveLength(1);
  rmSync(desk.config.backupDir);
});

test('the sender’s domain: each record missing, published, and wrong', async () => {
  sendAs(`ines@${DOMAIN}`);
  const missing = await checked();
  expect(missing.spf).toMatchObject({ state: 'failing', records: [{ name: DOMAIN }] });
  expect(missing.dmarc).toMatchObject({ state: 'attention', records: [{ name: `_dmarc.${DOMAIN}` }] });
  expect(missing.dkim.state).toBe('off');
  dns.records.set(DOMAIN, [['v=spf1 mx ', '-all'], ['something else']]);
  dns.records.set(`_dmarc.${DOMAIN}`, [['v=DMARC1; p=reject']]);
  await desk.json('PUT', '/api/settings/dkim', { domain: DOMAIN, selector: 'kiraku' });
  const published = await checked();
  expect(published.spf).toMatchObject({ state: 'ok', detail: expect.stringContaining('v=spf1 mx -all') });
  expect(published.dmarc.state).toBe('ok');
  expect(published.dkim).toMatchObject({ state: 'failing', records: [{ name: `kiraku._domainkey.${DOMAIN}` }] });
  const { value } = published.dkim.records[0]!;
  dns.records.set(`kiraku._domainkey.${DOMAIN}`, [value.match(/.{1,250}/g)!]);
  expect((await checked()).dkim.state).toBe('ok');
  // A subdomain goes by the record of the domain above it.
  sendAs(`ines@sales.${DOMAIN}`);
  expect((await checked()).dmarc.state).toBe('ok');
  dns.isSilent = true;
  expect((await checked()).spf).toMatchObject({
    state: 'unknown',
    detail: expect.stringContaining('could not be found out'),
  });
}, 120_000);

test('the clock, the database, backups and background work', async () => {
  await desk.sent((await desk.send({ recipients: [to('a@x.example')] })).id);
  const fine = await checked();
  expect([fine.database.state, fine.disk.state, fine.work.state, fine.version.state]).toEqual(['ok', 'ok', 'ok', 'ok']);
  expect(fine.backup.detail).toBe('No backups are made.');
  await desk.visit(trackingUrlsOf(mail.received[0]!).image!);
  expect(desk.sqlite.prepare('update event set at = ?').run(desk.clock.now() + DAY).changes).toBe(1);
  expect((await checked()).clock).toMatchObject({
    state: 'failing',
    detail: expect.stringMatching(/(1 day|23 hours) behind/),
  });
  desk.clock.advance(2 * DAY);
  expect((await checked()).clock.state).not.toBe('failing');
});

test('the mailbox, background work, backups and the domain of links: broken and mended', async () => {
  const mailbox = { host: '127.0.0.1', port: await freePort(), security: 'none', user: 'ines', folders: [] };
  const follow = (way: string) =>
    desk.json('PUT', '/api/settings/mailbox', { ...mailbox, way, password: 'x', storesSent: false });
  let isBroken = true;
  const work = desk.get(Works).add({
    name: 'some work',
    run: () => {
      if (isBroken) throw new Error('There is no way');
      return null;
    },
  });
  const run = () => (work.wake(), work.idle());
  await run();
  await follow('imap');
  await until(async () => (await checked()).mailbox.state === 'failing');
  const broken = await checked();
  expect(broken.mailbox.detail).toContain('accepts no connections');
  expect(broken.work).toMatchObject({
    state: 'failing',
    detail: expect.stringMatching(/^Some work: .*There is no way/),
  });
  expect([broken.backup.state, broken['link-domain'].state]).toEqual(['attention', 'attention']);

  isBroken = false;
  await run();
  await follow('lmtp');
  await desk.call('PUT', '/api/settings/backup/passphrase', { passphrase: 'quilted lamp over harbour' });
  sendAs(`ines@${DOMAIN}`);
  const { publicUrl } = desk.config;
  desk.config.publicUrl = `https://links.${DOMAIN}`;
  const states = async () => {
    const found = await checked();
    return [found.mailbox, found.work, found.backup, found['link-domain']].map(({ state }) => state);
  };
  await until(async () => (await states()).every((state) => state === 'ok'));
  desk.config.publicUrl = publicUrl;
});

test('LibreOffice, and a version that was built since the start: missing and there', async () => {
  const { PATH } = process.env;
  const folder = mkdtempSync(join(tmpdir(), 'kiraku-office-'));
  process.env['PATH'] = folder;
  try {
    expect((await checked()).office.state).toBe('off');
    writeFileSync(join(folder, 'soffice'), '#!/bin/sh\n', { mode: 0o755 });
    expect((await checked()).office.state).toBe('ok');
  } finally {
    process.env['PATH'] = PATH;
    rmSync(folder, { recursive: true });
  }
  const machine = desk.get(MachineChecks).checks;
  const at = (ms: number) => (desk.clock.advance(ms), machine.version!(AbortSignal.timeout(1000)));
  expect(await at(-1000 * DAY)).toMatchObject({
    state: 'attention',
    advice: expect.stringContaining('start Kiraku again'),
  });
  expect(await at(1000 * DAY)).toMatchObject({ state: 'ok' });
});

const canMount = (() => {
  const folder = mkdtempSync(join(tmpdir(), 'kiraku-mount-'));
  const { status } = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=1m', 'tmpfs', folder]);
  if (status === 0) spawnSync('umount', [folder]);
  rmSync(folder, { recursive: true });
  return status === 0;
})();

// Only the administrator may bring in a disk; where nobody is, the run says so as skipped.
(canMount ? test : test.skip)('a disk that is nearly full is found, and one with room again is not', async () => {
  const { dataDir } = desk.config;
  const look = () => desk.get(MachineChecks).checks.disk!(AbortSignal.timeout(1000));
  const mount = (how: string) =>
    expect(spawnSync('mount', ['-t', 'tmpfs', '-o', how, 'tmpfs', dataDir]).status).toBe(0);
  mount('size=100m');
  try {
    expect(await look()).toMatchObject({ state: 'failing', advice: expect.stringContaining('Make room') });
    mount('remount,size=1g');
    expect((await look()).state).toBe('attention');
    mount('remount,size=4g');
    expect((await look()).state).toBe('ok');
  } finally {
    spawnSync('umount', [dataDir]);
  }
});

test('a database that is damaged is found, by a program of its own', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'kiraku-damaged-'));
  const file = join(folder, 'kiraku.sqlite');
  const database = openDatabase(file);
  database.$client.pragma('wal_checkpoint(TRUNCATE)');
  database.$client.close();
  const check = () => runProgram('checkDatabase', { args: [file] });
  expect(await check()).toEqual({ code: 0, output: 'ok' });
  const { size } = (await import('node:fs')).statSync(file);
  const bytes = Buffer.alloc(size / 2, 0xaa);
  const handle = await (await import('node:fs/promises')).open(file, 'r+');
  await handle.write(bytes, 0, bytes.length, 8192);
  await handle.close();
  expect((await check()).output).not.toBe('ok');
  rmSync(folder, { recursive: true });
});

test('on the terminal it says all, and ends with 1 where something does not work', async () => {
  const { dataDir, host, port } = desk.config;
  const env = { KIRAKU_DATA: dataDir, KIRAKU_HOST: host, KIRAKU_PORT: String(port) };
  const fine = await runProgram('checkUp', { env });
  expect(fine).toEqual({ code: 0, output: expect.stringContaining('+ Outgoing mail: Works') });
  desk.get(AccountService).save({ ...ACCOUNT, smtpPort: 9 });
  const broken = await runProgram('checkUp', { env });
  expect(broken).toEqual({ code: 1, output: expect.stringContaining('x Outgoing mail: Does not work since') });
  expect(broken.output).toContain('1 of 17 does not work');
  // Nobody stays signed in.
  expect(desk.sqlite.prepare("select count(*) from session where user_agent = 'npm run check'").pluck().get()).toBe(0);
  const nobody = await runProgram('checkUp', { env: { ...env, KIRAKU_PORT: '9' } });
  expect(nobody).toEqual({ code: 1, output: expect.stringContaining('start it with npm start') });
  expect(existsSync(join(dataDir, 'nothing'))).toBe(false);
});

test('it runs by itself, some time after the start and then again, and not before Kiraku is set up', async () => {
  const view = () => desk.json<CheckupView>('GET', '/api/check-up');
  expect((await view()).checks).toEqual([]);
  desk.clock.advance(2 * MINUTE);
  await desk.get(CheckupService).wake();
  const [first] = (await view()).checks;
  desk.clock.advance(HOUR);
  await desk.get(CheckupService).wake();
  expect((await view()).checks[0]!.at).toBe(first!.at);
  desk.clock.advance(6 * HOUR);
  await desk.get(CheckupService).wake();
  expect((await view()).checks[0]!.at).toBeGreaterThan(first!.at);
});
