/*
 * For whoever changes Kiraku: the demo's data with the server started anew, and the page reloaded, after each save.
 * The page is at port 4601; what it asks for goes to the desk beside it.
 */
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';
import { answering, ensureBuilt, ensureInstalled, ROOT, run, start } from './lib/steps.mjs';

const env = {
  ...process.env,
  KIRAKU_DATA: process.env.KIRAKU_DATA || './.demo',
  KIRAKU_DEMO: '1',
  KIRAKU_PUBLIC_HOST: process.env.KIRAKU_PUBLIC_HOST || '127.0.0.1',
};

await ensureInstalled();
await ensureBuilt();
await run(process.execPath, ['demo/dist/main.js', ...process.argv.slice(2)], { env });

/** Where a package of the page lies: started without anything in between, it ends when this does. */
function program(name, path) {
  return join(dirname(createRequire(join(ROOT, 'web/package.json')).resolve(`${name}/package.json`)), path);
}

const BUNDLE = 'server/dist/bundle';
const server = start(['--watch', '--watch-preserve-output', `--watch-path=${BUNDLE}`, `${BUNDLE}/supervisor.js`], env);
const children = [
  server,
  start(['standin/dist/main.js'], env),
  start([program('typescript-native', 'bin/tsc'), '-b', '--watch', '--preserveWatchOutput']),
  start([program('rolldown', 'bin/cli.mjs'), '-c', 'server/rolldown.config.mjs', '--watch']),
  start([program('vite', 'bin/vite.js'), 'web']),
];
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'])
  process.on(signal, () => children.forEach((child) => child.kill('SIGTERM')));

await answering('http://127.0.0.1:4600/health', server);
console.log('\n  The page   http://127.0.0.1:4601   passphrase “felt and reed”   until Ctrl-C\n');
