import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Sqlite from 'better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { openDatabase } from '@kiraku/server/store/database';
import { SessionService } from '@kiraku/server/session/session.service';
import { keepPrivate } from '@kiraku/server/store/keepPrivate';
import { Desk, PASSPHRASE } from './harness.js';
import { runProgram } from './processes.js';

describe('the data folder', () => {
  const before = process.umask();
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'kiraku-private-'));
  });
  afterEach(() => {
    process.umask(before);
    rmSync(folder, { recursive: true });
  });
  const modeOf = (path: string) => statSync(path).mode & 0o777;

  test('that others could read is its owner’s alone from the start on, with what is written later', () => {
    const data = join(folder, 'data');
    mkdirSync(data, { mode: 0o777 });
    process.umask(0o022);
    rmSync(data, { recursive: true });
    mkdirSync(data);
    expect(modeOf(data)).toBe(0o755);
    expect(keepPrivate(data)).toMatch(/Now only you can/);
    expect(modeOf(data)).toBe(0o700);
    writeFileSync(join(data, 'kiraku.sqlite'), '');
    mkdirSync(join(data, 'files'));
    expect([modeOf(join(data, 'kiraku.sqlite')), modeOf(join(data, 'files'))]).toEqual([0o600, 0o700]);
    expect(keepPrivate(data)).toBeNull();
  });

  test('that is not there yet is made for its owner alone', () => {
    process.umask(0o022);
    expect(keepPrivate(join(folder, 'new'))).toBeNull();
    mkdirSync(join(folder, 'new'));
    expect(modeOf(join(folder, 'new'))).toBe(0o700);
  });
});

describe('a forgotten passphrase', () => {
  const run = (dataDir: string, typed: string) =>
    runProgram('resetPassphrase', { env: { KIRAKU_DATA: dataDir }, typed });

  test('is made anew on the machine, while Kiraku runs; everybody is signed out', async () => {
    const desk = await Desk.start();
    const cookie = `kiraku_session=${desk.get(SessionService).open()}`;
    const signIn = (passphrase: string) =>
      fetch(`${desk.url}/api/session`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ passphrase }),
      });
    for (const weak of ['password1\n', 'short\n', ''])
      expect([weak, (await run(desk.config.dataDir, weak)).code]).toEqual([weak, 1]);
    expect((await signIn(PASSPHRASE)).status).toBe(200);
    const next = 'felt curtains by moonlight';
    const { code, output } = await run(desk.config.dataDir, `${next}\n`);
    expect([code, output]).toEqual([0, expect.stringContaining('everybody is signed out')]);
    expect(output).not.toContain(next);
    expect((await signIn(PASSPHRASE)).status).toBe(401);
    expect((await signIn(next)).status).toBe(200);
    expect((await fetch(`${desk.url}/api/drafts`, { headers: { cookie } })).status).toBe(401);
    await desk.stop();
  });
});

describe('a database of an earlier version', () => {
  const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));
  let folder: string;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'kiraku-earlier-'));
  });
  afterEach(() => rmSync(folder, { recursive: true }));

  /** As it was after so many migrations. */
  function earlier(count: number): Sqlite.Database {
    const migrationsFolder = join(folder, 'migrations');
    cpSync(MIGRATIONS, migrationsFolder, { recursive: true });
    const journal = join(migrationsFolder, 'meta/_journal.json');
    const whole = JSON.parse(readFileSync(journal, 'utf8')) as { entries: object[] };
    writeFileSync(journal, JSON.stringify({ ...whole, entries: whole.entries.slice(0, count) }));
    const client = new Sqlite(join(folder, 'kiraku.sqlite'));
    migrate(drizzle(client), { migrationsFolder });
    return client;
  }

  /** A row with something in every column that must have it. */
  function insert(client: Sqlite.Database, table: string, known: Record<string, unknown>): void {
    const columns = client.prepare(`pragma table_info(${table})`).all() as {
      name: string;
      type: string;
      notnull: number;
      dflt_value: string | null;
    }[];
    const needed = columns.filter(
      ({ notnull, dflt_value, name }) => notnull === 1 && dflt_value === null && !(name in known),
    );
    const row: Record<string, unknown> = {
      ...Object.fromEntries(needed.map(({ name, type }) => [name, type === 'text' ? '[]' : 1])),
      ...known,
    };
    const names = Object.keys(row);
    client
      .prepare(`insert into ${table} (${names.join()}) values (${names.map(() => '?').join()})`)
      .run(...Object.values(row));
  }

  test('keeps what came back, and the originals that refer to it', () => {
    const before = earlier(15);
    insert(before, 'message', { id: 1, state: 'sent', subject: 'Panels' });
    insert(before, 'incoming', { id: 7, message_id: 1, copy_id: 3, identity: 'a', words: 'Yes.' });
    insert(before, 'incoming_original', { incoming_id: 7, raw: Buffer.from('mail') });
    before.close();
    const { $client: after } = openDatabase(join(folder, 'kiraku.sqlite'));
    expect(after.prepare('select id, copy_id, words from incoming').all()).toEqual([
      { id: 7, copy_id: 3, words: 'Yes.' },
    ]);
    expect(after.prepare('select incoming_id, raw from incoming_original').all()).toEqual([
      { incoming_id: 7, raw: Buffer.from('mail') },
    ]);
    expect(after.pragma('foreign_keys', { simple: true })).toBe(1);
    expect(after.pragma('foreign_key_check')).toEqual([]);
    after.prepare('delete from message').run();
    expect(after.prepare('select * from incoming_original').all()).toEqual([]);
    after.close();
  });
});

describe('the indexes', () => {
  let folder: string;
  let client: Sqlite.Database;
  beforeEach(() => {
    folder = mkdtempSync(join(tmpdir(), 'kiraku-indexes-'));
    client = openDatabase(join(folder, 'kiraku.sqlite')).$client;
  });
  afterEach(() => {
    client.close();
    rmSync(folder, { recursive: true });
  });
  const column = (sql: string, ...values: string[]) =>
    client
      .prepare<string[], string>(sql)
      .pluck()
      .all(...values);

  /** Columns by which rows of a table are found at once. */
  const indexed = (table: string) => [
    ...column('select name from pragma_table_info(?) where pk = 1', table),
    ...column('select i.name from pragma_index_list(?) l, pragma_index_info(l.name) i where i.seqno = 0', table),
  ];

  test('find whatever refers to a row: a deletion reads no table from end to end', () => {
    const tables = column("select name from sqlite_master where type = 'table' and name not like 'sqlite_%'");
    const references = tables.flatMap((table) =>
      column('select "from" from pragma_foreign_key_list(?)', table).map((from) => ({ table, from })),
    );
    expect(references.length).toBeGreaterThan(20);
    expect(references.filter(({ table, from }) => !indexed(table).includes(from))).toEqual([]);
  });

  test('find every use of a content by its hash', () => {
    const plan = client
      .prepare(
        'explain query plan select id from file_version where sha256 = @x or pages_sha256 = @x or first_page_sha256 = @x',
      )
      .all({ x: 'a' }) as { detail: string }[];
    expect(plan.map(({ detail }) => detail).join('\n')).not.toMatch(/SCAN/);
  });
});
