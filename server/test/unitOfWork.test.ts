import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Sqlite from 'better-sqlite3';
import { Clock } from '@kiraku/server/environment/clock';
import { Changes } from '@kiraku/server/store/changes';
import { openDatabase, type Database } from '@kiraku/server/store/database';
import { savedView } from '@kiraku/server/store/schema';
import { UnitOfWork } from '@kiraku/server/store/unitOfWork';

let folder: string;
let database: Database;
let changes: Changes;
let work: UnitOfWork;
/** What another connection finds at each announcement. */
let announced: string[][];

beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'kiraku-work-'));
  const file = join(folder, 'kiraku.sqlite');
  database = openDatabase(file);
  changes = new Changes(database, new Clock());
  work = new UnitOfWork(database, changes, new Clock());
  announced = [];
  const other = new Sqlite(file, { readonly: true });
  const names = other.prepare<[], string>('select name from saved_view order by id').pluck();
  changes.announced.subscribe(() => announced.push(names.all()));
});

afterEach(() => {
  database.$client.close();
  rmSync(folder, { recursive: true });
});

const add = (name: string) => database.insert(savedView).values({ name, query: '' }).run();
const stored = () => database.$client.prepare('select name from saved_view order by id').pluck().all();

test('what is committed is announced once, when others can see it', () => {
  const result = work.commit(() => {
    add('one');
    add('two');
    expect(announced).toEqual([]);
    return 3;
  });
  expect(result).toBe(3);
  expect(announced).toEqual([['one', 'two']]);
});

test('a part of another’s work is committed and announced with the whole', () => {
  work.commit(() => {
    work.commit(() => add('part'));
    expect(announced).toEqual([]);
    add('whole');
  });
  expect(announced).toEqual([['part', 'whole']]);
});

test('what nobody is shown is committed whole or not at all, and not announced', () => {
  work.commitUnseen(() => add('one'));
  const broken = () =>
    work.commitUnseen(() => {
      add('two');
      throw new Error('broken off');
    });
  expect(broken).toThrow('broken off');
  expect(stored()).toEqual(['one']);
  expect(announced).toEqual([]);
});

test('where nothing was written, nothing is announced', () => {
  work.commit(() => stored());
  expect(announced).toEqual([]);
});

test('work that throws leaves nothing, and is not announced', () => {
  const failing = () =>
    work.commit(() => {
      add('lost');
      throw new Error('Full disk');
    });
  expect(failing).toThrow('Full disk');
  expect([stored(), announced]).toEqual([[], []]);
});

test('a part that throws, and is caught, leaves the rest', () => {
  work.commit(() => {
    add('kept');
    const part = () =>
      work.commit(() => {
        add('lost');
        throw new Error('Not this');
      });
    expect(part).toThrow('Not this');
  });
  expect(announced).toEqual([['kept']]);
});

test('a change can be noted only with what it belongs to', () => {
  expect(() => work.note('drafts')).toThrow(/within a unit of work/);
  expect(() => work.noteMessagesTo([1])).toThrow(/within a unit of work/);
  work.commit(() => work.note('drafts'));
  expect(changes.after(0, 10)).toHaveLength(1);
});
