import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { entriesOf, viewFrom } from '@kiraku/core/sent';
import { openDatabase } from '@kiraku/server/store/database';

/** A small database as the version with fifteen migrations left it: a part of the story, with settings that were saved. */
const BEFORE = readFileSync(new URL('fixtures/version-15.sql', import.meta.url), 'utf8');

type Rows = Record<string, unknown>[];

let folder: string;
let before: Sqlite.Database;
let after: Sqlite.Database;
const rows = (database: Sqlite.Database, sql: string) => database.prepare(sql).all() as Rows;
const setting = (key: string) =>
  JSON.parse((rows(after, `select value from setting where key = '${key}'`)[0]?.['value'] as string) ?? 'null');

beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'kiraku-migration-'));
  const file = join(folder, 'kiraku.sqlite');
  for (const path of [file, ':memory:']) {
    const made = new Sqlite(path);
    made.pragma('foreign_keys = OFF');
    made.exec(BEFORE);
    if (path === file) made.close();
    else before = made;
  }
  after = openDatabase(file).$client;
});
afterAll(() => {
  before.close();
  after.close();
  rmSync(folder, { recursive: true });
});

const TABLES: readonly [before: string, after: string][] = [
  'message',
  'copy',
  'person',
  'event',
  'incoming',
  'reminder',
  'plan',
  'plan_step',
  'template',
  'link',
  'copy_link',
  'file',
  'file_version',
  'sent_file',
  'copy_file',
  'reading',
  'agent',
  'refused_mail',
  'saved_view',
]
  .map((name): [string, string] => [name, name])
  .concat([['letter', 'message_body']]);

test.each(TABLES)('%s keeps every row', (was, is) => {
  const count = (database: Sqlite.Database, table: string) =>
    rows(database, `select count(*) n from ${table}`)[0]!['n'];
  expect(count(before, was)).toBeGreaterThan(0);
  expect(count(after, is)).toBe(count(before, was));
});

test('it has the shape that a new database has', () => {
  const fresh = openDatabase(join(folder, 'fresh.sqlite')).$client;
  const shape = (database: Sqlite.Database) =>
    rows(database, "select type, name, tbl_name from sqlite_master where name not like 'sqlite_%' order by 1, 2").map(
      ({ type, name }) => [
        type,
        name,
        ...(type === 'table'
          ? rows(database, `select name, type, "notnull" from pragma_table_info('${String(name)}') order by 1`)
          : rows(database, `select name from pragma_index_info('${String(name)}')`)),
      ],
    );
  expect(shape(after)).toEqual(shape(fresh));
  fresh.close();
  expect(after.pragma('foreign_key_check')).toEqual([]);
  expect(after.pragma('integrity_check', { simple: true })).toBe('ok');
});

/** Columns whose values stay, under another name. */
const RENAMED: readonly [table: string, before: string, after: string][] = [
  ['message', 'answers', 'replies'],
  ['message', 'set_aside', 'not_counted'],
  ['message', 'answered_at', 'replied_at'],
  ['message', 'track_links', 'track_clicks'],
  ['message', 'untracked', 'untracked_reason'],
  ['message', 'delivery_receipt', 'request_dsn'],
  ['message', 'read_receipt', 'request_mdn'],
  ['message', 'latest_at', 'last_activity_at'],
  ['message', 'silenced_at', 'muted_at'],
  ['copy', 'trouble', 'last_error'],
  ['copy', 'delivery_receipt', 'dsn_state'],
  ['copy', 'read_receipt', 'mdn_state'],
  ['person', 'firm', 'company'],
  ['person', 'put_off_until', 'snoozed_until'],
  ['event', 'mine', 'own_device'],
  ['event', 'unwilling', 'dnt'],
  ['event', 'rings', 'notifies'],
  ['event', 'by_hand', 'override'],
  ['template', 'removed_at', 'deleted_at'],
];

test.each(RENAMED)('%s.%s is %s, value by value', (table, was, is) => {
  const values = (database: Sqlite.Database, column: string) =>
    rows(database, `select id, ${column} v from ${table} order by id`);
  expect(values(after, is)).toEqual(values(before, was));
});

test.each(['message', 'copy'])('the last reply of each %s is the newest of its events', (table) => {
  const column = table === 'message' ? 'message_id' : 'copy_id';
  const stored = rows(after, `select id, last_reply_at at from ${table} where last_reply_at is not null order by id`);
  expect(stored.length).toBeGreaterThan(0);
  expect(stored).toEqual(
    rows(
      after,
      `select ${column} id, max(at) at from event where kind = 'replied' and counted and ${column} is not null group by 1 order by 1`,
    ),
  );
});

test('kinds, states and reasons have their new names, and nothing else changed', () => {
  const all = (sql: string) => rows(after, sql).map((row) => Object.values(row)[0]);
  expect(all('select distinct kind from event order by 1')).toEqual(
    rows(before, "select distinct replace(kind, 'answered', 'replied') from event order by 1").map(
      (row) => Object.values(row)[0],
    ),
  );
  expect(all('select distinct reason from event where reason is not null order by 1')).toEqual(
    ['automatic-reply', 'burst', 'dnt', 'many-links', 'not-get', 'override', 'own-device', 'robot'].sort(),
  );
  expect(all('select distinct kind from incoming order by 1')).toEqual([
    'automatic',
    'dsn',
    'mdn',
    'perhaps-automatic',
    'reply',
  ]);
  expect(all('select distinct folder from message where folder is not null order by 1')).toEqual([
    'archived',
    'deleted',
  ]);
  expect(all('select distinct state from reminder order by 1')).toEqual(['due', 'resolved']);
  expect(all('select distinct condition from reminder order by 1')).toEqual(['always', 'not-replied']);
  expect(all("select reason from plan where state = 'stopped'")).toEqual(['Replied']);
  expect(all('select distinct condition from plan_step order by 1')).toEqual(['not-opened', 'not-replied']);
});

test('what a draft was to be reminded of, and to be followed by, is kept', () => {
  const [draft] = rows(after, 'select reminder, plan from message where id = 83');
  expect(JSON.parse(draft!['reminder'] as string)).toMatchObject({ condition: 'not-clicked', byEmail: true });
  expect(JSON.parse(draft!['plan'] as string)).toMatchObject({ steps: [{ condition: 'not-opened' }] });
});

test('settings are what was chosen', () => {
  expect(setting('notifications')).toMatchObject({
    stay: true,
    quietHours: { from: '22:00', to: '07:30' },
    mutedUntil: expect.any(Number),
    channels: {
      opened_first: ['page', 'desktop', 'push'],
      replied: ['page', 'desktop', 'push'],
      opened_again: ['page'],
    },
  });
  expect(setting('notifications.seen')).toBe(
    JSON.parse(rows(before, "select value from setting where key = 'notices.seen'")[0]!['value'] as string),
  );
  expect(setting('judging')).toMatchObject({ colleagues: 'not-counted', respectDnt: true, notifyForDays: 90 });
  expect(setting('sending')).toMatchObject({ undoSendSeconds: 5 });
  expect(setting('files')).toMatchObject({ maxBytes: 100_000_000 });
  expect(setting('mailbox')).toMatchObject({ unmatched: 'drop' });
  expect(setting('writing.defaults')).toMatchObject({ trackClicks: true, requestDsn: false, requestMdn: false });
});

test('saved views still show what they showed', () => {
  const queries = rows(after, 'select query from saved_view order by id').map(({ query }) => query as string);
  expect(queries).toEqual([
    'show=not-replied&sort=timeToReply&company=Quillon',
    'show=no-sign&sort=lastActivity&direction=asc&words=panel',
  ]);
  // The page understands every word of them: only what is the default is left out of an address.
  for (const query of queries) {
    const understood = new URLSearchParams(entriesOf(viewFrom(new URLSearchParams(query)))).toString();
    expect([...new URLSearchParams(query)].filter(([name, value]) => !understood.includes(`${name}=${value}`))).toEqual(
      query.includes('lastActivity') ? [['sort', 'lastActivity']] : [],
    );
  }
});

test('a placeholder of a template is filled as before', () => {
  const texts = rows(after, 'select subject || html text from template').map(({ text }) => String(text));
  expect(rows(before, "select * from template where subject || html like '%{{firm%'")).not.toEqual([]);
  expect(texts.filter((text) => text.includes('{{firm'))).toEqual([]);
  expect(texts.some((text) => text.includes('{{company|'))).toBe(true);
});
