/*
 * The demo: Kiraku on made-up data, with the simulated world outside. “-- --fresh” makes the data anew.
 */
import { answering, ensureBuilt, ensureInstalled, run, SERVER, start } from './lib/steps.mjs';

const env = {
  ...process.env,
  KIRAKU_DATA: process.env.KIRAKU_DATA || './.demo',
  KIRAKU_DEMO: '1',
  // What is set for real use is not meant for the demo.
  KIRAKU_CONFIG: '',
  KIRAKU_PUBLIC_HOST: process.env.KIRAKU_PUBLIC_HOST || '127.0.0.1',
};
const desk = `http://127.0.0.1:${env.KIRAKU_PORT || 4600}`;
const world = `http://127.0.0.1:${env.STANDIN_PORT || 4620}`;

await ensureInstalled();
await ensureBuilt();
await run(process.execPath, ['demo/dist/main.js', ...process.argv.slice(2)], { env });

const children = [start(['standin/dist/main.js'], env), start(SERVER, env)];
let stopping = false;
function stop(code) {
  if (stopping) return;
  stopping = true;
  process.exitCode = code;
  children.forEach((child) => child.kill('SIGTERM'));
}
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => stop(0));
for (const child of children) child.on('exit', () => stop(1));

try {
  const [outside, kiraku] = children;
  const publicSite = `http://${env.KIRAKU_PUBLIC_HOST}:${env.KIRAKU_PUBLIC_PORT || 4610}`;
  await Promise.all([
    answering(`${world}/health`, outside),
    answering(`${publicSite}/health`, kiraku),
    answering(`${desk}/health`, kiraku),
  ]);
  console.log(`
  Kiraku               ${desk}
  Passphrase           felt and reed
  Be the recipient     ${world}
  Other mail apps      port ${process.env.KIRAKU_SUBMISSION_PORT || 4587}, STARTTLS, ines@tallowreed.example, felt-and-reed

  Runs until Ctrl-C. “npm run demo -- --fresh” starts the story again.
`);
} catch (error) {
  if (!stopping) console.error(error.message);
  stop(1);
}
