import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readConfig } from '@kiraku/server/environment/config';
import { SETTING_NAMES, settingsOf } from '@kiraku/server/environment/configFile';

let folder: string;
let file: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'kiraku-config-'));
  file = join(folder, 'kiraku.conf');
});
afterEach(() => rmSync(folder, { recursive: true }));
const read = (text: string, env: Record<string, string> = {}) => {
  writeFileSync(file, text);
  return settingsOf({ KIRAKU_CONFIG: file, ...env });
};

test('what the file says is set, and the environment comes before it', () => {
  const text = '# For the small server\nKIRAKU_PORT=5000\n\nKIRAKU_PUBLIC_URL="https://track.reed.example" # here\n';
  expect(readConfig(read(text))).toMatchObject({ port: 5000, publicUrl: 'https://track.reed.example' });
  expect(readConfig(read(text, { KIRAKU_PORT: '6000' })).port).toBe(6000);
});

test('a name that there is not is refused, with its line and those that there are', () => {
  expect(() => read('KIRAKU_PORT=1\n  KIRAKU_PROT=5000\n')).toThrow(
    /kiraku\.conf, line 2: there is no setting KIRAKU_PROT\. .*KIRAKU_PORT/,
  );
});

test('a file that is named must be there; without one, and with none, the environment is all', () => {
  expect(() => settingsOf({ KIRAKU_CONFIG: file })).toThrow(`There is no file ${file}`);
  expect(settingsOf({ KIRAKU_CONFIG: '', KIRAKU_PORT: '7' })).toEqual({ KIRAKU_CONFIG: '', KIRAKU_PORT: '7' });
  expect(settingsOf({ KIRAKU_PORT: '7' })).toEqual({ KIRAKU_PORT: '7' });
});

test('all that can be set is what is read, and what the README lists', () => {
  const sources = ['config', 'configFile'].map((name) =>
    readFileSync(new URL(`../src/environment/${name}.ts`, import.meta.url), 'utf8'),
  );
  const named = (text: string) => new Set(text.match(/KIRAKU_[A-Z_]+/g));
  const listed = named(readFileSync(new URL('../../README.md', import.meta.url), 'utf8'));
  for (const name of SETTING_NAMES) {
    expect([name, named(sources[0]!).has(name)]).toEqual([name, true]);
    if (name !== 'KIRAKU_DEMO') expect([name, listed.has(name)]).toEqual([name, true]);
  }
  for (const name of named(sources[0]!)) expect(SETTING_NAMES).toContain(name);
});
