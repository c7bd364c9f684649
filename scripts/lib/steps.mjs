import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { isBuilt, noteBuilt, sourcesNow } from './built.mjs';

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '../..');

/** Runs a command to its end; rejects where it fails. `quiet` shows its output only then. */
export function run(command, args, { quiet = false, env = process.env } = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: ROOT, env, stdio: quiet ? ['ignore', 'pipe', 'pipe'] : 'inherit' });
    let output = '';
    child.stdout?.on('data', (chunk) => (output += chunk));
    child.stderr?.on('data', (chunk) => (output += chunk));
    child.on('error', reject);
    child.on('close', (code) => {
      if (code === 0) return resolve(output);
      if (quiet) process.stderr.write(output);
      reject(new Error(`“${[command, ...args].join(' ')}” ended with ${code}`));
    });
  });
}

/** Runs Jest, with modules as the platform has them, and with room for what is young: to collect it took a tenth of the time. */
export function runJest(args) {
  const NODE_OPTIONS = '--experimental-vm-modules --max-semi-space-size=64';
  return run('npx', ['jest', '--forceExit', ...args], {
    env: { ...process.env, NODE_OPTIONS, NODE_NO_WARNINGS: '1' },
  });
}

/** What Node.js runs as Kiraku: the supervisor of desk and public site. */
export const SERVER = ['--max-old-space-size=64', 'server/dist/bundle/supervisor.js'];

/** A long-running process of our own. */
export function start(args, env = process.env) {
  return spawn(process.execPath, args, { cwd: ROOT, env, stdio: 'inherit' });
}

/** Runs a program of the server in the terminal, and ends as it does. */
export async function runProgram(name, args = []) {
  await ensureInstalled();
  await ensureBuilt();
  start([`server/dist/bundle/${name}.js`, ...args]).on('exit', (code) => (process.exitCode = code ?? 1));
}

/** Whether this is a place to run and not to build: somebody has built, and left out what it is built with. */
function isToRunOnly() {
  const has = (path) => existsSync(join(ROOT, path));
  return has('server/dist/bundle/supervisor.js') && has('node_modules/better-sqlite3') && !has('node_modules/jest');
}

/** Installs the packages where they are missing or not those of the lock file. */
export async function ensureInstalled() {
  checkNode();
  if (isToRunOnly()) return;
  const wanted = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stamp = join(ROOT, 'node_modules', '.kiraku-installed');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === wanted) return;
  console.log('Installing packages. The first time this takes some minutes …');
  await run('npm', ['ci', '--no-audit', '--no-fund'], { quiet: true });
  writeFileSync(stamp, wanted);
}

/** Builds the server side, the stand-in and the page, unless that has been done and nothing has changed. */
export async function ensureBuilt() {
  if (isToRunOnly()) return;
  // Who changes something meanwhile has it built next time.
  const sources = sourcesNow(ROOT);
  if (isBuilt(ROOT, sources)) return;
  console.log('Building …');
  await run('npm', ['run', 'build'], { quiet: true });
  noteBuilt(ROOT, sources);
}

/** Resolves when an address answers; rejects where the process behind it has ended. */
export async function answering(url, child) {
  for (;;) {
    if (child.exitCode !== null) throw new Error(`What should answer at ${url} has ended.`);
    const ok = await fetch(url).then(
      (response) => response.ok,
      () => false,
    );
    if (ok) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

function checkNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major > 20 || (major === 20 && minor >= 19)) return;
  console.error(`Kiraku needs Node.js 20.19 or newer; this is ${process.versions.node}.`);
  process.exit(1);
}
