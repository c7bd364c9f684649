import { spawn } from 'node:child_process';
import { once } from 'node:events';
import {
  cpSync,
  existsSync,
  mkdirSync,
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  writeFileSync,
} from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { fileURLToPath } from 'node:url';
import type { BackupView, PeoplePage } from '@kiraku/core/contract';
import { DAY, HOUR } from '@kiraku/core/time';
import { BackupService } from '@kiraku/server/backup/backup.service';
import { backupsOf, readNote } from '@kiraku/server/backup/backupFolder';
import { restoreBackup } from '@kiraku/server/backup/restoring';
import { WrongPassphraseError } from '@kiraku/server/backup/sealing';
import { pdf, upload } from '../files/library.js';
import { Desk, desk, mail, to, trackingUrlsOf, useDesk } from '../harness.js';
import { runProgram } from '../processes.js';
import { until } from '../until.js';

const PASSPHRASE = 'quilted lamp over harbour';
const PROGRAM = fileURLToPath(new URL('../../dist/bundle/makeBackup.js', import.meta.url));

useDesk('each');

let scratch: string;
beforeEach(() => {
  scratch = mkdtempSync(join(tmpdir(), 'kiraku-backup-'));
});
afterEach(() => rmSync(scratch, { recursive: true }));

const view = () => desk.json<BackupView>('GET', '/api/settings/backup');
const choose = (passphrase = PASSPHRASE) =>
  desk.call('PUT', '/api/settings/backup/passphrase', { passphrase }).then((response) => response.status);
const rested = () => until(async () => !(await view()).isUnderWay && (await view()).backups.length > 0);
/** Makes one more, which is of another second. */
async function again(): Promise<void> {
  const [before] = (await view()).backups;
  await pause(1000);
  await desk.json('POST', '/api/settings/backup');
  await until(async () => (await view()).backups[0]!.at > before!.at);
  await rested();
}
const restoreTo = (dataDir: string, change: { name?: string; passphrase?: string } = {}) =>
  restoreBackup(
    { dataDir, backupDir: desk.config.backupDir },
    { name: undefined, passphrase: PASSPHRASE, ...change },
    Date.now(),
  );
/** The machine is lost; a desk on another one begins with the backup. */
async function restored(name?: string): Promise<Desk> {
  const dataDir = join(scratch, 'restored');
  await restoreTo(dataDir, { ...(name !== undefined && { name }) });
  return Desk.start(mail.port, { backupDir: desk.config.backupDir }, dataDir);
}
const env = (change: Record<string, string> = {}) => ({
  KIRAKU_DATA: desk.config.dataDir,
  KIRAKU_BACKUP: desk.config.backupDir,
  ...change,
});

test('backed up under load, lost and restored: all is there, and links in messages that were sent still lead on', async () => {
  const before = await desk.send({ subject: 'Before' });
  await desk.sent(before.id);
  await upload(desk, 'Felt.pdf', await pdf(2));
  const [link] = trackingUrlsOf(mail.received[0]!).links as [string];
  await desk.visit(link);
  let isOver = false;
  const load = (async () => {
    for (let n = 0; !isOver; n += 1) {
      await Promise.all([desk.send({ subject: `While ${n}`, recipients: [to(`r${n}@x.example`)] }), desk.visit(link)]);
    }
  })();
  expect(await choose()).toBe(200);
  await rested();
  isOver = true;
  await load;
  const [newest] = backupsOf(desk.config.backupDir);
  const { counts, files } = readNote(desk.config.backupDir, newest!);
  expect(counts).toMatchObject({ files: 1 });
  // It, and its small picture.
  expect(files.length).toBeGreaterThanOrEqual(1);

  const other = await restored();
  const count = (table: string) => other.sqlite.prepare(`select count(*) from ${table}`).pluck().get();
  expect(count('message')).toBe(counts.messages);
  expect(count('event')).toBeGreaterThanOrEqual(counts.events);
  const gone = await fetch(other.config.publicUrl + new URL(link).pathname, { redirect: 'manual' });
  expect(gone.headers.get('location')).toBe('https://tallowreed.example/proposal?a=1&b=2');
  // What is sealed with the key of the data folder can be opened, and the certificate is the same.
  expect(readFileSync(join(other.config.dataDir, 'key'))).toEqual(readFileSync(join(desk.config.dataDir, 'key')));
  for (const name of ['submission.crt', 'submission.key'])
    expect(readFileSync(join(other.config.dataDir, name))).toEqual(readFileSync(join(desk.config.dataDir, name)));
  const { sha256 } = files[0]!;
  const path = join('files', sha256.slice(0, 2), sha256);
  expect(readFileSync(join(other.config.dataDir, path))).toEqual(readFileSync(join(desk.config.dataDir, path)));
  expect((await other.json<BackupView>('GET', '/api/settings/backup')).hasPassphrase).toBe(true);
  await other.stop();
}, 120_000);

test('without a passphrase none is made, and one that is easy to guess is not taken', async () => {
  expect(await view()).toMatchObject({ hasPassphrase: false, nextAt: null, backups: [] });
  expect((await desk.call('POST', '/api/settings/backup')).status).toBe(422);
  expect(await choose('password1')).toBe(422);
  expect(await choose('short')).toBe(422);
  desk.get(BackupService).request();
  await pause(200);
  expect(await view()).toMatchObject({ isUnderWay: false, backups: [] });
  expect(existsSync(desk.config.backupDir)).toBe(false);
});

test('it is made each night, and each has its own size and counts', async () => {
  await desk.sent((await desk.send({})).id);
  await choose();
  await rested();
  const first = await view();
  expect(first).toMatchObject({ lastError: null, folder: desk.config.backupDir });
  expect(first.backups).toMatchObject([{ messages: 1, people: 1 }]);
  expect(first.backups[0]!.bytes).toBeGreaterThan(100_000);
  const soon = first.nextAt!;
  expect(soon - first.backups[0]!.at).toBeLessThanOrEqual(DAY + HOUR);
  expect(new Date(soon).getHours()).toBe(3);
}, 60_000);

test('files are copied once, and go with the last backup that has them', async () => {
  await upload(desk, 'Felt.pdf', await pdf(1));
  await choose();
  await rested();
  const [first] = backupsOf(desk.config.backupDir);
  const { sha256 } = readNote(desk.config.backupDir, first!).files[0]!;
  const path = join(desk.config.backupDir, 'files', sha256.slice(0, 2), sha256);
  const { ino, mtimeMs } = statSync(path);
  await again();
  expect(statSync(path)).toMatchObject({ ino, mtimeMs });
  // Of one day only the newest is kept; and the file is of no use to it any more.
  expect(backupsOf(desk.config.backupDir).map(({ name }) => name)).not.toContain(first!.name);
  rmSync(join(desk.config.dataDir, 'files', sha256.slice(0, 2), sha256));
  await again();
  expect(existsSync(path)).toBe(false);
}, 60_000);

test('one that cannot be read keeps no other from being made, and takes no file with it', async () => {
  await upload(desk, 'Felt.pdf', await pdf(1));
  const store = join(desk.config.dataDir, 'files');
  const [name] = (readdirSync(store, { recursive: true }) as string[]).filter((one) => /[0-9a-f]{64}$/.test(one));
  await choose();
  await rested();
  const strange = join(desk.config.backupDir, '2026-01-01T03-00-00Z');
  mkdirSync(strange);
  writeFileSync(join(strange, 'backup.json'), 'no note');
  rmSync(join(store, name!));
  await again();
  expect((await view()).lastError).toBeNull();
  expect(existsSync(join(desk.config.backupDir, 'files', name!))).toBe(true);
}, 60_000);

test('a file that is damaged does not keep the rest from being backed up', async () => {
  await upload(desk, 'Felt.pdf', await pdf(1));
  const store = join(desk.config.dataDir, 'files');
  const [damaged] = (readdirSync(store, { recursive: true }) as string[]).filter((name) => /[0-9a-f]{64}$/.test(name));
  writeFileSync(join(store, damaged!), 'else');
  await choose();
  await rested();
  const { files, counts } = readNote(desk.config.backupDir, backupsOf(desk.config.backupDir)[0]!);
  expect(counts.files).toBe(1);
  expect(files.map(({ sha256 }) => sha256)).not.toContain(damaged!.slice(-64));
  expect((await restoreTo(join(scratch, 'to'))).counts.files).toBe(1);
}, 60_000);

test('it can be read by its owner alone, and without the passphrase by nobody', async () => {
  await choose();
  await rested();
  const { backupDir } = desk.config;
  expect(statSync(backupDir).mode & 0o777).toBe(0o700);
  const [backup] = backupsOf(backupDir);
  const note = readFileSync(join(backupDir, backup!.name, 'backup.json'));
  const key = readFileSync(join(desk.config.dataDir, 'key'));
  for (const form of [key.toString('base64url'), key.toString('hex'), key.toString('base64')])
    expect(note.includes(form)).toBe(false);
  expect(note.includes('PRIVATE KEY')).toBe(false);
  await expect(restoreTo(join(scratch, 'to'), { passphrase: 'another passphrase' })).rejects.toThrow(
    WrongPassphraseError,
  );
  expect(existsSync(join(scratch, 'to', 'kiraku.sqlite'))).toBe(false);
}, 60_000);

test('what is damaged is not restored, and says what to do', async () => {
  await upload(desk, 'Felt.pdf', await pdf(1));
  await choose();
  await rested();
  const whole = join(scratch, 'whole');
  cpSync(desk.config.backupDir, whole, { recursive: true });
  const { name } = backupsOf(whole)[0]!;
  const { sha256 } = readNote(whole, { name }).files[0]!;
  const restoreFrom = (backupDir: string) =>
    restoreBackup({ dataDir: join(scratch, 'to'), backupDir }, { name: undefined, passphrase: PASSPHRASE }, Date.now());
  const harm: Record<string, (folder: string) => void> = {
    'Restore an earlier backup': (folder) => {
      const file = join(folder, name, 'kiraku.sqlite.gz');
      const bytes = readFileSync(file);
      bytes[bytes.length >> 1]! ^= 1;
      writeFileSync(file, bytes);
    },
    'is damaged': (folder) => writeFileSync(join(folder, 'files', sha256.slice(0, 2), sha256), 'else'),
    'is missing': (folder) => rmSync(join(folder, 'files', sha256.slice(0, 2), sha256)),
    'a later version': (folder) => {
      const note = { ...readNote(folder, { name }), format: 2 };
      writeFileSync(join(folder, name, 'backup.json'), JSON.stringify(note));
    },
    'There is no backup in': (folder) => rmSync(join(folder, name), { recursive: true }),
  };
  for (const [words, act] of Object.entries(harm)) {
    const folder = mkdtempSync(join(scratch, 'harmed-'));
    cpSync(whole, folder, { recursive: true });
    act(folder);
    await expect(restoreFrom(folder)).rejects.toThrow(words);
    expect(existsSync(join(scratch, 'to', 'kiraku.sqlite'))).toBe(false);
  }
  // What was broken off is done again from the beginning; what is there already stays.
  expect((await restoreFrom(whole)).counts.files).toBe(1);
  expect(readdirSync(join(scratch, 'to'))).not.toContain('restoring');
  await expect(restoreFrom(whole)).rejects.toThrow('There is data in');
}, 60_000);

test('killed again and again, it leaves only backups that are whole', async () => {
  for (let n = 0; n < 5; n += 1) await upload(desk, `Felt ${n}.pdf`, await pdf(n + 1));
  await choose();
  await rested();
  const { backupDir } = desk.config;
  for (let n = 0; n < 12; n += 1) {
    const child = spawn(process.execPath, [PROGRAM], {
      env: { ...process.env, NODE_OPTIONS: '', ...env() },
      stdio: 'ignore',
    });
    const ended = once(child, 'exit');
    await pause(250 + n * 40);
    child.kill('SIGKILL');
    await ended;
    const names = readdirSync(backupDir).filter((one) => /^\d/.test(one));
    for (const name of names.filter((one) => !one.endsWith('.part')))
      expect(readNote(backupDir, { name }).counts.files).toBe(5);
  }
  await pause(1000);
  expect(await runProgram('makeBackup', { env: env() })).toMatchObject({ code: 0 });
  expect(readdirSync(backupDir).filter((one) => one.endsWith('.part'))).toEqual([]);
  expect((await restoreTo(join(scratch, 'to'))).counts.files).toBe(5);
}, 120_000);

test('on the terminal the passphrase is chosen once, and a command copies the backup elsewhere', async () => {
  const away = join(scratch, 'away');
  mkdirSync(away);
  const command = `cp -r "$KIRAKU_BACKUP/$KIRAKU_BACKUP_NAME" '${away}'`;
  const weak = await runProgram('makeBackup', { env: env(), typed: 'short\n' });
  expect([weak.code, weak.output]).toEqual([1, expect.stringContaining('at least 8 characters')]);
  const made = await runProgram('makeBackup', {
    env: env({ KIRAKU_BACKUP_COMMAND: command }),
    typed: `${PASSPHRASE}\n`,
  });
  expect(made).toEqual({ code: 0, output: expect.stringContaining('0 messages, 0 people') });
  expect(made.output).not.toContain(PASSPHRASE);
  expect(readdirSync(away)).toEqual(backupsOf(desk.config.backupDir).map(({ name }) => name));
  await pause(1000);
  const failed = await runProgram('makeBackup', { env: env({ KIRAKU_BACKUP_COMMAND: 'exit 3' }) });
  expect(failed).toEqual({ code: 1, output: expect.stringContaining('copies it elsewhere ended with 3') });
  const dataDir = join(scratch, 'to');
  const restoring = (typed: string, ...args: string[]) =>
    runProgram('restoreBackup', { env: env({ KIRAKU_DATA: dataDir }), args, typed });
  expect(await restoring('wrong\n')).toEqual({ code: 1, output: expect.stringContaining('not the passphrase') });
  expect((await restoring(`${PASSPHRASE}\n`, '2020-01-01T00-00-00Z')).output).toContain('There are: 20');
  expect((await restoring(`${PASSPHRASE}\n`)).code).toBe(0);
  expect(existsSync(join(dataDir, 'kiraku.sqlite'))).toBe(true);
  expect((await runProgram('makeBackup', { env: env({ KIRAKU_DATA: scratch }) })).output).toContain(
    'nothing to back up',
  );
}, 60_000);

test('one that fails says why, and is tried again an hour later', async () => {
  await choose();
  await rested();
  rmSync(desk.config.backupDir, { recursive: true });
  writeFileSync(desk.config.backupDir, 'a file is in its way');
  await desk.json('POST', '/api/settings/backup');
  await until(async () => (await view()).lastError !== null);
  const { lastError, nextAt } = await view();
  expect(lastError!.text).toContain(desk.config.backupDir);
  expect(nextAt).toBe(lastError!.at + HOUR);
  rmSync(desk.config.backupDir);
  desk.clock.advance(HOUR);
  desk.get(BackupService).request();
  await rested();
  expect((await view()).lastError).toBeNull();
}, 60_000);

test('who was erased after it was made is erased again, and who came back since is not', async () => {
  const people = (from: Desk) =>
    from
      .json<PeoplePage>('GET', '/api/people/directory')
      .then((page) => page.people.map(({ address }) => address).sort());
  for (const name of ['ada', 'ben', 'cleo'])
    await desk.sent((await desk.send({ recipients: [to(`${name}@x.example`)] })).id);
  const erase = async (address: string) => {
    const { people: rows } = await desk.json<PeoplePage>('GET', '/api/people/directory');
    const { id } = rows.find((one) => one.address === address)!;
    expect((await desk.call('DELETE', `/api/people/${id}`)).ok).toBe(true);
  };
  await erase('cleo@x.example');
  await pause(1000);
  await desk.sent((await desk.send({ recipients: [to('cleo@x.example')] })).id);
  await choose();
  await rested();
  await erase('ben@x.example');
  await until(() => existsSync(join(desk.config.backupDir, 'erased.json')));
  await until(() => readFileSync(join(desk.config.backupDir, 'erased.json'), 'utf8').split('mark').length === 3);
  // The folder names nobody.
  expect(readFileSync(join(desk.config.backupDir, 'erased.json'), 'utf8')).not.toMatch(/ben|cleo/);
  const other = await restored();
  expect(await people(other)).toEqual(['ada@x.example', 'cleo@x.example']);
  const subjects = other.sqlite.prepare("select count(*) from message where recipients like '%ben@%'").pluck().get();
  expect(subjects).toBe(0);
  expect(existsSync(join(other.config.dataDir, 'restored.json'))).toBe(false);
  await other.stop();
}, 60_000);
