import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const SERVICE = fileURLToPath(new URL('../../scripts/service.mjs', import.meta.url));
const ANALYZE = '/usr/bin/systemd-analyze';
/** In tenths of what systemd calls the exposure level: below it is “OK”. */
const MAX_EXPOSURE = 20;

let folder: string;
let unit: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'kiraku-service-'));
  unit = join(folder, 'kiraku.service');
  writeFileSync(unit, execFileSync(process.execPath, [SERVICE], { env: { PATH: process.env['PATH'] } }));
});
afterAll(() => rmSync(folder, { recursive: true }));

const analyze = (...args: string[]) => spawnSync(ANALYZE, args, { encoding: 'utf8' });
const withSystemd = existsSync(ANALYZE) ? test : test.skip;

withSystemd('the unit is one that systemd takes', () => {
  // Run and said in one: what is wrong in it stands on its error stream.
  expect(analyze('verify', unit)).toMatchObject({ status: 0, stderr: '' });
  writeFileSync(join(folder, 'wrong.service'), '[Service]\nExecStart=/nowhere\nProtectSystm=strict\n');
  expect(analyze('verify', join(folder, 'wrong.service')).stderr).toContain('ProtectSystm');
});

withSystemd('the service can do little harm to its machine', () => {
  const security = (threshold: number) =>
    analyze('security', '--offline=true', `--threshold=${threshold}`, unit).status;
  expect(security(MAX_EXPOSURE)).toBe(0);
  // That it would be noticed.
  expect(security(0)).not.toBe(0);
});
