/*
 * Everything that must hold: format, lint, types, unit and integration tests, browser tests. Installs what is missing;
 * the last line is the sum.
 */
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { ensureProgram } from './lib/debian.mjs';
import { ensureBuilt, ensureInstalled, ROOT, run, runJest } from './lib/steps.mjs';

const OUT = join(ROOT, '.test');
const CHROMIUM = process.env.CHROMIUM || '/usr/bin/chromium';
const TYPED = [
  'web',
  'web/worker',
  'web/viewer',
  'core/test',
  'web/test',
  'server/test',
  'standin/test',
  'demo/test',
  'e2e',
];
const sum = { passed: 0, failed: 0, skipped: 0 };

/** A check that passes or fails as a whole. */
async function check(name, work) {
  try {
    await work();
    sum.passed += 1;
    console.log(`✓ ${name}`);
  } catch (error) {
    sum.failed += 1;
    console.log(`✗ ${name}: ${error.message}`);
  }
}

/** As many checks at once as there are processors; what one wrote is shown where it fails. */
async function sideBySide(checks) {
  const waiting = [...checks];
  const worker = async () => {
    for (let next; (next = waiting.shift());) {
      const [name, command, args] = next;
      await check(name, () => run(command, args, { quiet: true }));
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, worker));
}

/** A run of tests that counts its own; `read` takes the counts out of what it wrote. */
async function suite(name, file, work, read) {
  console.log(`\n${name}`);
  const path = join(OUT, file);
  const ok = await work(path).then(
    () => true,
    () => false,
  );
  try {
    const counts = read(JSON.parse(readFileSync(path, 'utf8')));
    for (const [kind, count] of Object.entries(counts)) sum[kind] += count;
    // A suite that could not even be loaded has no failed test to count.
    if (!ok && counts.failed === 0) sum.failed += 1;
  } catch {
    console.log(`✗ ${name} could not be run`);
    sum.failed += 1;
  }
}

rmSync(OUT, { recursive: true, force: true });
mkdirSync(OUT, { recursive: true });
await ensureInstalled();
const hasChromium = await ensureProgram(CHROMIUM, 'chromium', 'the browser tests need Chromium');
if (hasChromium)
  await ensureProgram(
    '/usr/bin/chromium-headless-shell',
    'chromium-headless-shell',
    'the browser tests take a third less time in it',
  );
// Each test that needs one of these is skipped, and counted so, where it is missing.
await ensureProgram('/usr/sbin/postfix', 'postfix', 'a relay of another make takes part in the tests');
await ensureProgram('/usr/sbin/dovecot', 'dovecot-imapd', 'a mailbox of another make takes part in the tests');
await ensureProgram('/usr/bin/swaks', 'swaks', 'a mail client of another make takes part in the tests');
// It speaks TLS by a package that it only recommends.
await ensureProgram('/usr/share/doc/libnet-ssleay-perl', 'libnet-ssleay-perl', 'that client encrypts its connection');
await ensureProgram('/usr/bin/python3', 'python3', 'a mail program of another make takes part in the tests');
await ensureProgram(
  '/usr/bin/soffice',
  'libreoffice-writer-nogui libreoffice-calc-nogui libreoffice-impress-nogui',
  'slides, documents and sheets are turned into pages in the tests',
);
await check('build', ensureBuilt);
await sideBySide([
  ['lint', 'npx', ['eslint', '.']],
  ['format', 'npx', ['prettier', '--check', '--log-level', 'warn', '.']],
  ['no circles', 'npm', ['run', '--silent', 'check:circles']],
  ['nothing unused', 'npx', ['knip']],
  ...TYPED.map((part) => [`types: ${part}`, 'npm', ['run', '--silent', 'tsc', '--', '-p', part]]),
]);

await suite(
  'Unit and integration tests',
  'jest.json',
  (path) => runJest(['--json', `--outputFile=${path}`]),
  (results) => ({ passed: results.numPassedTests, failed: results.numFailedTests, skipped: results.numPendingTests }),
);

if (hasChromium) {
  await suite(
    'Browser tests',
    'playwright.json',
    (path) =>
      run('npx', ['playwright', 'test', '--config', 'e2e/playwright.config.ts', '--reporter=list,json'], {
        env: { ...process.env, CHROMIUM, PLAYWRIGHT_JSON_OUTPUT_NAME: path },
      }),
    ({ stats }) => {
      if (stats.flaky > 0) console.log(`\n${stats.flaky} passed only when tried again: see above, and mend them`);
      return { passed: stats.expected + stats.flaky, failed: stats.unexpected, skipped: stats.skipped };
    },
  );
} else sum.skipped += 1;

console.log(`\n${sum.passed} passed, ${sum.failed} failed, ${sum.skipped} skipped`);
process.exitCode = sum.failed === 0 ? 0 : 1;
