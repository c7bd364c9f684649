import { existsSync, mkdtempSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { setTimeout as pause } from 'node:timers/promises';
import Sqlite from 'better-sqlite3';
import fc from 'fast-check';
import type { HealthView, NotRecordedView } from '@kiraku/core/contract';
import { HOUR } from '@kiraku/core/time';
import { imagePath, linkPath, optOutPath } from '@kiraku/core/tracking';
import { databaseFile, journalFolder } from '@kiraku/server/environment/config';
import { Journal } from '@kiraku/server/journal/journal';
import { PublicSite } from '@kiraku/server/publicSite/publicSite';
import { openDatabase } from '@kiraku/server/store/database';
import { findLink, linkLine, recentLinks, sortedLinks } from '@kiraku/server/tracking/linkFile';
import { desk, kinds, mail, PASSPHRASE, READER, trackingUrlsOf, useDesk } from './harness.js';
import { Kiraku } from './processes.js';
import { until } from './until.js';

/** The public site without the desk beside it. */
let alone: PublicSite;
let notRecorded: NotRecordedView | undefined;

/** Ends the desk, and leaves the public site by itself. */
async function endDesk(): Promise<void> {
  await desk.close();
  notRecorded = undefined;
  alone = new PublicSite(desk.config, desk.clock, {
    problem: () => undefined,
    notRecorded: (what) => (notRecorded = what),
  });
  await alone.open();
}

async function beginDesk(): Promise<void> {
  await alone.close();
  await desk.open();
}

const visit = (url: string, init: RequestInit = {}) =>
  fetch(url, { redirect: 'manual', ...init, headers: { 'user-agent': READER } });

describe('while the desk is away', () => {
  let image: string;
  let link: string;
  let optOut: string;
  let id: number;

  useDesk('each');
  beforeEach(async () => {
    ({ id } = await desk.send({}));
    await desk.sent(id);
    const urls = trackingUrlsOf(mail.to('marit@lindqvist.example'));
    image = urls.image!;
    link = urls.links[0]!;
    optOut = desk.config.publicUrl + optOutPath(/\/i\/([\w-]{22})/.exec(image)![1]!);
    desk.clock.stop();
    desk.clock.advance(HOUR);
  });

  test('what happens is answered, recorded afterwards with its own time, and notifies nobody any more', async () => {
    await endDesk();
    const at = desk.clock.now();
    expect((await visit(image)).status).toBe(200);
    desk.clock.advance(HOUR);
    expect((await visit(link)).headers.get('location')).toBe('https://tallowreed.example/proposal?a=1&b=2');
    desk.clock.advance(20 * HOUR);
    await beginDesk();
    const { events } = await desk.detail(id);
    expect(events.map((event) => [event.kind, event.at])).toEqual([
      ['clicked', at + HOUR],
      ['opened', at],
    ]);
    const missed = await desk.json<{ notifications: { by: string[] }[] }>('GET', '/api/notifications/missed');
    expect(missed.notifications.length).toBeGreaterThan(0);
    for (const { by } of missed.notifications) expect(by).toEqual([]);
  });

  test('nothing has to be asked for: the first visit after a start is recorded by itself, and so are those after it', async () => {
    await endDesk();
    await beginDesk();
    const counted = () => desk.sqlite.prepare('select coalesce(sum(times), 0) from event').pluck().get();
    await visit(image);
    await until(() => counted() === 1);
    await visit(link);
    await until(() => counted() === 2);
  });

  test('who declines has declined at once: nothing they do afterwards is recorded, and they can take it back', async () => {
    await endDesk();
    await visit(image);
    const declined = await (await visit(optOut, { method: 'POST' })).text();
    const at = desk.clock.now();
    expect(await (await visit(optOut)).text()).toBe(declined);
    desk.clock.advance(HOUR);
    await visit(image);
    await visit(link);
    await beginDesk();
    expect(kinds((await desk.detail(id)).events)).toEqual(['opted_out', 'opened']);
    const optedOutAt = desk.sqlite.prepare('select opted_out_at from person').pluck();
    expect(optedOutAt.get()).toBe(at);

    await endDesk();
    await visit(`${optOut}?again`, { method: 'POST' });
    expect(await (await visit(optOut)).text()).not.toBe(declined);
    await beginDesk();
    expect(optedOutAt.database.open).toBe(false);
    expect(desk.sqlite.prepare('select opted_out_at from person').pluck().get()).toBeNull();
  });

  test('links lead on, and images are shown, where the database cannot be read at all', async () => {
    await until(() => findLink(desk.config.dataDir, link.split('/').pop()!) !== null);
    await endDesk();
    const file = databaseFile(desk.config);
    const files = ['', '-wal', '-shm'].map((end) => file + end).filter((one) => existsSync(one));
    for (const one of files) renameSync(one, `${one}.away`);
    writeFileSync(file, 'This is no database, and long enough to be looked at. '.repeat(100));
    await alone.close();
    alone = new PublicSite(desk.config, desk.clock, { problem: () => undefined, notRecorded: () => undefined });
    await alone.open();

    expect((await visit(image)).headers.get('content-type')).toBe('image/gif');
    expect((await visit(link)).headers.get('location')).toBe('https://tallowreed.example/proposal?a=1&b=2');
    expect((await visit(desk.config.publicUrl + linkPath('A'.repeat(22)))).status).toBe(503);
    expect((await visit(optOut)).status).toBe(503);

    await alone.close();
    for (const one of files) renameSync(`${one}.away`, one);
    await desk.open();
    expect(kinds((await desk.detail(id)).events).sort()).toEqual(['clicked', 'opened']);
  });

  test('whoever is erased is in no file beside the database', async () => {
    const token = link.split('/').pop()!;
    await until(() => findLink(desk.config.dataDir, token) !== null);
    const person = desk.sqlite.prepare('select id from person').pluck().get();
    await desk.call('DELETE', `/api/people/${person}`);
    await until(() => findLink(desk.config.dataDir, token) === null);
  });

  test('where nothing can be written, images and links are answered, and what was lost is told', async () => {
    await endDesk();
    const folder = journalFolder(desk.config);
    renameSync(folder, `${folder}.away`);
    expect((await visit(image)).status).toBe(200);
    expect((await visit(link)).status).toBe(302);
    expect(notRecorded).toMatchObject({ count: 2, lastAt: desk.clock.now() });
    expect((await visit(optOut, { method: 'POST' })).status).toBe(503);
    renameSync(`${folder}.away`, folder);
    // The disk is tried again after a pause.
    await pause(1100);
    await visit(image);
    await beginDesk();
    expect(kinds((await desk.detail(id)).events)).toEqual(['opened']);
  });

  test('an entry that cannot be applied is left out, and holds up nothing', async () => {
    await desk.close();
    const journal = new Journal<object>(journalFolder(desk.config));
    const token = /\/i\/([\w-]{22})/.exec(image)![1]!;
    const facts = { at: desk.clock.now(), ip: '192.0.2.1', method: 'GET', purpose: '', ownDevice: false, dnt: false };
    const hit = { target: 'image', token, userAgent: READER, ...facts };
    const entries = [hit, { ...hit, target: 'nothing' }, { target: 'image', token }, { choice: 'decline' }, { ...hit }];
    await Promise.all(entries.map((entry) => new Promise((resolve) => journal.append(entry, resolve))));
    await journal.close();
    await desk.open();
    const { tally } = (await desk.detail(id)).summary;
    expect(tally.opens + tally.notCounted).toBe(2);
  });
});

test('the public site answers while the database is brought to another version', async () => {
  const dataDir = mkdtempSync(join(tmpdir(), 'kiraku-public-'));
  const file = databaseFile({ dataDir });
  const before = new Sqlite(file);
  before.pragma('journal_mode = WAL');
  before.pragma('foreign_keys = OFF');
  before.exec(readFileSync(new URL('fixtures/version-15.sql', import.meta.url), 'utf8'));
  const token = (table: string, column: string) =>
    before.prepare(`select ${column} from ${table}`).pluck().get() as string;
  const [image, link] = [token('copy', 'image_token'), token('copy_link', 'token')];
  const target = before.prepare('select url from link join copy_link on link_id = link.id where token = ?').pluck();
  const url = target.get(link);
  const site = new PublicSite({ ...desk.config, dataDir, publicPort: 0 }, desk.clock, {
    problem: (what, error) => process.emitWarning(`${what}: ${String(error)}`),
    notRecorded: () => undefined,
  });
  const publicUrl = `http://127.0.0.1:${await site.open()}`;
  const answers = async () => {
    expect((await visit(publicUrl + imagePath(image))).status).toBe(200);
    expect((await visit(publicUrl + linkPath(link))).headers.get('location')).toBe(url);
  };
  await answers();
  before.close();
  openDatabase(file).$client.close();
  await answers();
  await site.close();
  rmSync(dataDir, { recursive: true });
});

test('where links lead is found in the sorted file, in what came since, and nowhere else', () => {
  const dataDir = mkdtempSync(join(tmpdir(), 'kiraku-links-'));
  const name = fc.stringMatching(/^[\w-]{22}$/);
  const links = fc.uniqueArray(fc.tuple(name, fc.webUrl({ withQueryParameters: true, size: 'large' })), {
    selector: ([one]) => one,
    maxLength: 40,
  });
  fc.assert(
    fc.property(links, fc.nat(40), name, (all, cut, other) => {
      const lines = (some: typeof all) => some.map(([one, url]) => linkLine(one, url)).join('');
      const sorted = all.slice(0, cut).sort(([a], [b]) => (a < b ? -1 : 1));
      writeFileSync(sortedLinks(dataDir), lines(sorted));
      writeFileSync(recentLinks(dataDir), lines(all.slice(cut)));
      for (const [one, url] of all) expect(findLink(dataDir, one)).toBe(url);
      if (!all.some(([one]) => one === other)) expect(findLink(dataDir, other)).toBeNull();
    }),
  );
  rmSync(dataDir, { recursive: true });
});

describe('as processes of their own', () => {
  useDesk('each');

  test('what has ended is started again, and why stands with the desk', async () => {
    await desk.close();
    const kiraku = await Kiraku.start(desk.config);
    await kiraku.answering('desk');
    await kiraku.kill('publicSite');
    await kiraku.answering('publicSite');
    const signIn = await fetch(`${desk.url}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ passphrase: PASSPHRASE }),
    });
    const cookie = signIn.headers.get('set-cookie')!.split(';')[0]!;
    const health = async () =>
      (await (await fetch(`${desk.url}/api/health`, { headers: { cookie } })).json()) as HealthView;
    await until(async () => (await health()).processes.some(({ restarts }) => restarts > 0));
    expect((await health()).processes).toEqual([
      { name: 'desk', startedAt: expect.any(Number), restarts: 0, lastEnd: null },
      {
        name: 'public site',
        startedAt: expect.any(Number),
        restarts: 1,
        lastEnd: { at: expect.any(Number), why: 'SIGKILL' },
      },
    ]);
    await kiraku.stop();
    // Both have ended with it, and what was open is closed.
    await expect(fetch(`${desk.config.publicUrl}/health`)).rejects.toThrow();
    await expect(fetch(`${desk.url}/health`)).rejects.toThrow();
    await desk.open();
  });
});

describe('a supervisor that is killed', () => {
  useDesk('each');

  test.each([
    ['begins', false],
    ['answers', true],
  ])('leaves no desk behind that only just %s, and would send beside the next one', async (_, hasBegun) => {
    await desk.close();
    const kiraku = await Kiraku.start(desk.config);
    let pid: number | undefined;
    await until(() => ([pid] = kiraku.pidsOf('desk')).length === 1);
    if (hasBegun) await kiraku.answering('desk');
    await kiraku.kill('supervisor');
    await until(() => !existsSync(`/proc/${pid}`));
    const next = await Kiraku.start(desk.config);
    await next.answering('desk');
    await next.stop();
    await desk.open();
  });
});

test('the program of the public site has no framework in it, as the desk’s has', () => {
  const folder = fileURLToPath(new URL('../dist/bundle/', import.meta.url));
  const hasFramework = (program: string) => {
    const parts = new Set<string>();
    const follow = (path: string) => {
      if (parts.has(path)) return;
      parts.add(path);
      for (const [, next] of readFileSync(path, 'utf8').matchAll(/(?:from|import)\s*"(\.[^"]+)"/g))
        follow(join(dirname(path), next!));
    };
    follow(join(folder, program));
    // What the framework's decorators leave on classes.
    return [...parts].some((part) => readFileSync(part, 'utf8').includes('Reflect.defineMetadata('));
  };
  expect(hasFramework('main.js')).toBe(true);
  expect(hasFramework('publicSite.js')).toBe(false);
  expect(hasFramework('supervisor.js')).toBe(false);
});
