import { mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { Follower } from '@kiraku/server/journal/follower';
import { framesOf } from '@kiraku/server/journal/frames';
import { Journal, TooBusyError } from '@kiraku/server/journal/journal';
import { isOver, runsOf, writersOf, type Run } from '@kiraku/server/journal/journalFiles';
import { Positions, type Position } from '@kiraku/server/journal/positions.repository';
import { until } from '../until.js';
import { openDatabase, type Database } from '@kiraku/server/store/database';

let folder: string;
let database: Database;
let applied: number[];
let lost: string[];

beforeEach(() => {
  const scratch = mkdtempSync(join(tmpdir(), 'kiraku-journal-'));
  folder = join(scratch, 'journal');
  database = openDatabase(join(scratch, 'kiraku.sqlite'));
  [applied, lost] = [[], []];
});
afterEach(() => {
  database.$client.close();
  rmSync(join(folder, '..'), { recursive: true });
});

/** A follower as after a restart: it knows nothing but what is durable. */
function follower(): Follower<number> {
  const positions = new Positions(database);
  return new Follower(folder, positions, {
    apply: (entries, from, at) => {
      const group = entries.slice(0, 7);
      database.transaction(() => positions.move(from, at[group.length - 1]!));
      applied.push(...group);
      return group.length;
    },
    lost: (_run, what) => lost.push(what),
  });
}

const append = (journal: Journal<number>, entry: number) =>
  new Promise<Error | null>((resolve) => journal.append(entry, resolve));
const appendAll = (journal: Journal<number>, from: number, to: number) =>
  Promise.all(range(from, to).map((entry) => append(journal, entry)));
const range = (from: number, to: number) => Array.from({ length: to - from }, (_, n) => from + n);
const files = () => readdirSync(folder).map((name) => name.replace(/^.*(?=\.(\d+\.hits|lock)$)/, ''));

test('what is written is applied once and in its order, while it is written and after', async () => {
  const journal = new Journal<number>(folder);
  const following = follower();
  for (let n = 0; n < 100; n += 20) {
    expect(await appendAll(journal, n, n + 20)).toEqual(Array(20).fill(null));
    if (n !== 40) await following.catchUp();
  }
  await following.catchUp();
  await follower().catchUp();
  expect(applied).toEqual(range(0, 100));
  expect(lost).toEqual([]);
  // Whoever writes it goes on in the same segment; it is there until then.
  expect(files()).toEqual(['.1.hits', '.lock']);
  await journal.close();
  await following.catchUp();
  expect(files()).toEqual([]);
});

test('the runs of several processes are applied side by side, and only those that have ended are removed', async () => {
  const first = new Journal<number>(folder);
  await appendAll(first, 0, 5);
  const [{ name: nameOfFirst }] = runsOf(folder) as [Run];
  const second = new Journal<number>(folder);
  await Promise.all([appendAll(first, 5, 10), appendAll(second, 100, 110)]);
  expect(writersOf(folder)).toEqual([process.pid, process.pid]);
  await first.close();
  const over = runsOf(folder).filter(({ name }) => isOver(folder, name));
  expect(over.map(({ name }) => name)).toEqual([nameOfFirst]);
  const following = follower();
  await following.catchUp();
  await appendAll(second, 110, 120);
  await following.catchUp();
  expect(applied.filter((entry) => entry < 100)).toEqual(range(0, 10));
  expect(applied.filter((entry) => entry >= 100)).toEqual(range(100, 120));
  expect(runsOf(folder)).toHaveLength(1);
  await second.close();
  await following.catchUp();
  await following.catchUp();
  // Nothing is kept of runs that are gone.
  expect(database.$client.prepare('select count(*) from journal_position').pluck().get()).toBe(0);
});

test('whatever applying breaks off at, nothing is applied twice or left out', async () => {
  const journal = new Journal<number>(folder);
  await appendAll(journal, 0, 50);
  for (let n = 0; n < 5; n += 1) {
    const positions = new Positions(database);
    const following = new Follower<number>(folder, positions, {
      apply: (entries, from, at) => {
        database.transaction(() => {
          positions.move(from, at[2]!);
          if (applied.length > n * 9) throw new Error('Killed here');
          applied.push(...entries.slice(0, 3));
        });
        return 3;
      },
      lost: () => undefined,
    });
    await expect(following.catchUp()).rejects.toThrow('Killed here');
  }
  await follower().catchUp();
  expect(applied).toEqual(range(0, 50));
  await journal.close();
});

test('two who apply the same journal: the second is told, and nothing is applied twice', async () => {
  const journal = new Journal<number>(folder);
  await appendAll(journal, 0, 3);
  const positions = new Positions(database);
  const stands: Position = { ...positions.of(runsOf(folder)[0]!.name, 1) };
  await follower().catchUp();
  expect(() => positions.move(stands, { ...stands, sequence: 3 })).toThrow('Another process applies');
  await journal.close();
});

test('a torn end is passed over once its writer has ended, and damage costs what it lies in', async () => {
  const journal = new Journal<number>(folder);
  await appendAll(journal, 0, 10);
  const [segment] = readdirSync(folder).filter((name) => name.endsWith('.hits'));
  const path = join(folder, segment!);
  const bytes = readFileSync(path);
  const frameBytes = framesOf(['0'], 1).length;
  bytes[frameBytes * 4 + 3]! ^= 0xff;
  framesOf(['10'], 11).copy(bytes, frameBytes * 10, 0, 12);
  writeFileSync(path, bytes);
  const following = follower();
  await following.catchUp();
  // Somebody may still be writing there.
  expect(applied).toEqual(range(0, 4));
  expect(lost).toEqual([]);
  await journal.close();
  await following.catchUp();
  expect(applied).toEqual(range(0, 10).filter((entry) => entry !== 4));
  expect(lost).toHaveLength(2);
  expect(lost[1]).toMatch(/1[0-2] bytes at the end/);
  expect(runsOf(folder)).toEqual([]);
});

test('what the disk does not take is said to whoever wrote it, and what comes later is written', async () => {
  const journal = new Journal<number>(folder);
  renameSync(folder, `${folder}-away`);
  const refused = await appendAll(journal, 0, 5);
  expect(refused.every((error) => error !== null)).toBe(true);
  renameSync(`${folder}-away`, folder);
  let error: Error | null = new Error('not yet');
  while (error) {
    await pause(50);
    error = await append(journal, 5);
  }
  await follower().catchUp();
  expect(applied).toEqual([5]);
  await journal.close();
});

test('what is much longer than a segment goes on in the next, and segments are removed as they are applied', async () => {
  const journal = new Journal<string>(folder);
  const texts: string[] = [];
  const following = new Follower<string>(folder, new Positions(database), {
    apply: (entries, from, at) => {
      database.transaction(() => new Positions(database).move(from, at.at(-1)!));
      texts.push(...entries);
      return entries.length;
    },
    lost: (_run, what) => lost.push(what),
  });
  for (let n = 0; n < 60; n += 1) {
    const text = `${n} ${'x'.repeat(100_000)}`;
    expect(await new Promise((resolve) => journal.append(text, resolve))).toBeNull();
    if (n % 7 === 0) await following.catchUp();
    if (n % 7 === 0) expect(files().filter((name) => name.endsWith('.hits'))).toHaveLength(1);
  }
  await following.catchUp();
  expect(texts.map((text) => parseInt(text))).toEqual(range(0, 60));
  expect(lost).toEqual([]);
  await journal.close();
});

test('a journal that nobody applies does not fill the disk, and is written again once somebody does', async () => {
  const journal = new Journal<string>(folder, 20_000_000);
  const text = 'x'.repeat(100_000);
  const write = () => new Promise<Error | null>((resolve) => journal.append(text, resolve));
  let written = 0;
  while ((await write()) === null) written += 1;
  expect(written).toBeGreaterThan(100);
  expect(written).toBeLessThan(300);
  expect((await write())?.message).toMatch('The journal is full');
  await follower().catchUp();
  expect(applied).toHaveLength(written);
  await until(async () => (await write()) === null);
  await journal.close();
});

test('damage larger than anything that is written is passed over', async () => {
  const journal = new Journal<number>(folder);
  await appendAll(journal, 0, 3);
  const [segment] = readdirSync(folder).filter((name) => name.endsWith('.hits'));
  const path = join(folder, segment!);
  const frame = framesOf(['0'], 1).length;
  const damage = Buffer.alloc(700_000, 'damage');
  writeFileSync(path, Buffer.concat([readFileSync(path).subarray(0, frame), damage, framesOf(['1', '2'], 2)]));
  await journal.close();
  await follower().catchUp();
  expect(applied).toEqual(range(0, 3));
  expect(lost.length).toBeGreaterThan(0);
});

test('what waits to be written is bounded, so that memory is', async () => {
  const journal = new Journal<number>(folder);
  const outcomes = await appendAll(journal, 0, 25_000);
  expect(outcomes.filter((error) => error instanceof TooBusyError)).toHaveLength(5000);
  expect(outcomes.filter((error) => error === null)).toHaveLength(20_000);
  await follower().catchUp();
  expect(applied).toEqual(range(0, 20_000));
  await journal.close();
});
