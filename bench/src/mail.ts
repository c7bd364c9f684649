import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/*
 * How much of real-life mail is understood: the share of the cases of server/test/mail that come out as expected, by group.
 * What leaves is sent through a real server, what comes is read as from a mailbox.
 */

const ROOT = fileURLToPath(new URL('../..', import.meta.url));
const WAYS = ['outgoing', 'incoming'] as const;
const BAR_PERCENT = 97;

interface JestResults {
  testResults: { name: string; assertionResults: { title: string; status: string }[] }[];
}

const folder = mkdtempSync(join(tmpdir(), 'kiraku-bench-'));
const file = join(folder, 'mail.json');
const tests = WAYS.map((way) => `server/test/mail/${way}.test.ts`);
spawnSync(
  'npx',
  ['jest', '--forceExit', '--silent', '--json', `--outputFile=${file}`, '--selectProjects', 'server', '--', ...tests],
  {
    cwd: ROOT,
    env: { ...process.env, NODE_OPTIONS: '--experimental-vm-modules', NODE_NO_WARNINGS: '1' },
  },
);
const results = JSON.parse(readFileSync(file, 'utf8')) as JestResults;
rmSync(folder, { recursive: true });

let isEnough = true;
for (const way of WAYS) {
  const cases = results.testResults
    .filter(({ name }) => name.includes(`/mail/${way}.`))
    .flatMap(({ assertionResults }) => assertionResults)
    .map(({ title, status }) => ({ group: title.split('/')[0]!, isRight: status === 'passed' }));
  for (const group of new Set(cases.map((one) => one.group)))
    print(
      way,
      group,
      cases.filter((one) => one.group === group),
    );
  const percent = print(way, 'all', cases);
  isEnough &&= percent >= BAR_PERCENT;
}
process.exitCode = isEnough ? 0 : 1;

function print(way: string, group: string, cases: readonly { isRight: boolean }[]): number {
  const right = cases.filter(({ isRight }) => isRight).length;
  const percent = (100 * right) / cases.length;
  console.log(`mail.${way}.${group} ${percent.toFixed(1)} % (${right} of ${cases.length})`);
  return percent;
}
