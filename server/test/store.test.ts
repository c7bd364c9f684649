import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { SessionService } from '@kiraku/server/session/session.service';
import { keepPrivate } from '@kiraku/server/store/keepPrivate';
import { Desk, PASSPHRASE } from './harness.js';

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
    expect(keepPrivate(data)).toMatch(/It is for you alone now/);
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
  const PROGRAM = fileURLToPath(new URL('../dist/session/resetPassphrase.js', import.meta.url));
  const run = (dataDir: string, typed: string) =>
    new Promise<{ code: number | null; output: string }>((resolve) => {
      const child = spawn(process.execPath, [PROGRAM], {
        env: { ...process.env, NODE_OPTIONS: '', KIRAKU_DATA: dataDir },
      });
      let output = '';
      child.stdout.on('data', (chunk) => (output += String(chunk)));
      child.stderr.on('data', (chunk) => (output += String(chunk)));
      child.on('close', (code) => resolve({ code, output }));
      child.stdin.end(typed);
    });

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
