import {
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  renameSync,
  rmSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { DatabaseBefore } from '@kiraku/server/update/databaseBefore';
import { Versions } from '@kiraku/server/update/versions';
import { Desk, READER, to } from '../harness.js';
import { envOf, Kiraku, runProgram } from '../processes.js';
import { until } from '../until.js';
import { Installed } from './installed.js';

const JOURNAL = readFileSync(new URL('../../migrations/meta/_journal.json', import.meta.url), 'utf8');

let desk: Desk;
let image: string;
let installed: Installed;
let kiraku: Kiraku | undefined;

const install = async () => {
  desk = await Desk.start();
  await desk.send({ recipients: [to('reader@x.example')] });
  image = desk.sqlite.prepare('select image_token from copy').pluck().get() as string;
  await desk.close();
  installed = new Installed();
  kiraku = undefined;
};
const remove = async () => {
  await kiraku?.stop();
  installed.remove();
};

const start = async () => {
  kiraku = await Kiraku.start(desk.config, installed.root);
  await kiraku.answering('desk');
};
const update = (...args: string[]) => runProgram('update', { args, env: envOf(desk.config) }, installed.root);
const deskStatus = () => fetch(`http://127.0.0.1:${desk.config.port}/health`).then(({ status }) => status);
const read = <T>(sql: string) => {
  const database = new Sqlite(desk.config.dataDir + '/kiraku.sqlite');
  const rows = database.prepare(sql).pluck().all() as T[];
  database.close();
  return rows;
};
/** A version whose database has one more table. */
const withMigration = (sql: string) => {
  const { entries, ...rest } = JSON.parse(JOURNAL) as { entries: { idx: number; when: number; tag: string }[] };
  const last = entries.at(-1)!;
  const next = { ...last, idx: last.idx + 1, when: last.when + 1000, tag: 'more' };
  return {
    'server/migrations/meta/_journal.json': JSON.stringify({ ...rest, entries: [...entries, next] }),
    'server/migrations/more.sql': sql,
  };
};
const without = (file: string) => `import { rmSync } from 'node:fs'; rmSync('${file}');`;
const TABLE = withMigration('create table more (id integer primary key);');
const hasTable = () => read("select 1 from sqlite_master where name = 'more'").length > 0;
const nothingLeft = () => {
  expect(existsSync(join(installed.root, '.update'))).toBe(false);
  expect(readdirSync(desk.config.dataDir)).not.toContain('updating');
};

describe('an update', () => {
  beforeEach(install);
  afterEach(remove);

  test('a new version is taken in while Kiraku runs, and nobody outside waits in vain or is forgotten', async () => {
    await start();
    const before = kiraku!.pidsOf('desk');
    installed.publish({ version: '1.1.0', files: { ...TABLE, 'web/page.txt': 'new' } });
    let isOver = false;
    const visits = { asked: 0, shown: 0 };
    const visitor = (async () => {
      while (!isOver) {
        visits.asked += 1;
        const headers = { 'user-agent': `${READER} Reader/${visits.asked}` };
        // A connection that was kept may be closed just then: a browser asks again by itself.
        const response = await fetch(`${desk.config.publicUrl}/i/${image}.gif`, { headers }).catch(() => undefined);
        if (response?.status === 200) visits.shown += 1;
        else expect(response).toBeUndefined();
      }
    })();
    const { code, output } = await update();
    isOver = true;
    await visitor;
    expect(output).toContain('Version 1.1.0 runs.');
    expect(code).toBe(0);
    expect(installed.version()).toBe('1.1.0');
    expect(installed.changes()).toBe('');
    expect(hasTable()).toBe(true);
    expect(await deskStatus()).toBe(200);
    expect(kiraku!.pidsOf('desk')).not.toEqual(before);
    expect(visits.shown).toBeGreaterThan(0);
    expect(visits.asked - visits.shown).toBeLessThan(3);
    await until(() => read<number>('select coalesce(sum(times), 0) from event')[0]! >= visits.shown);
    nothingLeft();
    expect((await update()).output).toContain('This is the newest version.');
  });

  test('a version that was tried well, and does not start in its place, gives way to the one before with its database', async () => {
    await start();
    const thenReady =
      "import { writeFileSync } from 'node:fs'; writeFileSync('server/dist/bundle/main.js', 'process.exit(1);');";
    installed.publish({ version: '1.1.0', files: TABLE, thenReady });
    const { code, output } = await update();
    expect(output).toMatch(/1\.1\.0 does not start.*The version before goes on/s);
    expect(code).toBe(1);
    expect(installed.version()).toBe('1.0.0');
    expect(installed.changes()).toBe('');
    expect(hasTable()).toBe(false);
    await kiraku!.answering('desk');
    nothingLeft();
  });

  test('without git a version comes as a folder; where Kiraku does not run, it is put in its place all the same', async () => {
    installed.publish({ version: '1.1.0', files: TABLE });
    const folder = installed.unpacked();
    expect((await update()).output).toContain('Name the folder of the new version');
    const { code, output } = await update(folder);
    expect(output).toContain('Start it with: npm start');
    expect(code).toBe(0);
    expect(installed.version()).toBe('1.1.0');
    expect(hasTable()).toBe(true);
    nothingLeft();
    await start();
  });

  test('files that were changed here are not overwritten, and where there is no data nothing is done', async () => {
    installed.publish({ version: '1.1.0' });
    writeFileSync(join(installed.root, 'web/page.txt'), 'mine');
    expect((await update()).output).toContain('git stash');
    expect(readFileSync(join(installed.root, 'web/page.txt'), 'utf8')).toBe('mine');
    const elsewhere = { ...envOf(desk.config), KIRAKU_DATA: join(desk.config.dataDir, 'elsewhere') };
    const { code, output } = await runProgram('update', { env: elsewhere }, installed.root);
    expect(output).toContain('There is no Kiraku in');
    expect(code).toBe(1);
  });

  test('what the new version has written to the database in its own way is not lost by going back', async () => {
    const file = join(desk.config.dataDir, 'kiraku.sqlite');
    const write = (sql: string) => {
      const database = new Sqlite(file);
      database.exec(sql);
      database.close();
    };
    const before = new DatabaseBefore(desk.config);
    await before.copyForTrial();
    await before.keep();
    write("create table more (id); insert into __drizzle_migrations (hash, created_at) values ('more', 1)");
    await before.noteMigrated();
    write('insert into more values (1)');
    expect(await before.putBack()).toBe(false);
    expect(hasTable()).toBe(true);
    // And put back it is where nothing was.
    write('delete from more');
    await before.noteMigrated();
    expect(await before.putBack()).toBe(true);
    expect(hasTable()).toBe(false);
  });
});

describe('a version that', () => {
  // It runs through all of them: nothing is changed.
  beforeAll(async () => {
    await install();
    await start();
  });
  afterEach(() => installed.withdraw());
  afterAll(remove);

  test.each<[string, { files?: Record<string, string>; thenReady?: string }, RegExp]>([
    ['cannot be built', { thenReady: "throw new Error('no such package');" }, /no such package/],
    [
      'cannot bring the database to itself',
      { files: withMigration('create table more (id integr primary kex);') },
      /kex/,
    ],
    ['lacks a program', { thenReady: without('server/dist/bundle/tryVersion.js') }, /Cannot find module/],
    ['cannot record', { thenReady: without('server/dist/hostedNetworks.bin') }, /hostedNetworks/],
    ['has no page', { thenReady: without('web/dist/index.html') }, /responds to \/ with 404/],
  ])('%s changes nothing, and the desk does not even rest', async (_, wrong, says) => {
    const before = kiraku!.pidsOf('desk');
    installed.publish({ version: '1.1.0', ...wrong });
    const { code, output } = await update();
    expect(output).toMatch(says);
    expect(code).toBe(1);
    expect(installed.version()).toBe('1.0.0');
    expect(installed.changes()).toBe('');
    expect(kiraku!.pidsOf('desk')).toEqual(before);
    expect(hasTable()).toBe(false);
    nothingLeft();
  });
});

test('an exchange that was broken off at any name is finished by the next', () => {
  const names = ['a', 'b', 'c', 'd'];
  const root = mkdtempSync(join(tmpdir(), 'kiraku-update-'));
  const write = (folder: string, text: string) => {
    mkdirSync(join(root, folder), { recursive: true });
    for (const name of names) writeFileSync(join(root, folder, name), text);
  };
  const read = (folder: string) => names.map((name) => readFileSync(join(root, folder, name), 'utf8')).join('');
  for (const done of [0, 1, 2, 3, 4])
    for (const isAway of [false, true]) {
      rmSync(root, { recursive: true, force: true });
      write('', '1');
      write('.update/next', '2');
      mkdirSync(join(root, '.update/before'));
      writeFileSync(join(root, '.update/switch.json'), JSON.stringify({ from: null, to: null, isBack: false }));
      const move = (name: string, from: string, to: string) => renameSync(join(root, from, name), join(root, to, name));
      for (const name of names.slice(0, done)) {
        move(name, '', '.update/before');
        move(name, '.update/next', '');
      }
      if (isAway && names[done]) move(names[done], '', '.update/before');
      expect(new Versions(root).finish()).toBe(true);
      expect(read('')).toBe('2222');
      expect(read('.update/before')).toBe('1111');
      expect(new Versions(root).finish()).toBe(false);
    }
  rmSync(root, { recursive: true });
});
