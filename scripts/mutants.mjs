/*
 * Which changes of the code would no test notice? Makes small changes, one at a time, and runs the tests that concern them.
 *
 *   npm run mutants                      a seeded sample of the core, and the server's list
 *   npm run mutants -- core inbox time   some folders of the core
 *   npm run mutants -- server            the server's list
 *   MUTANTS_PER_FOLDER=200 MUTANTS_SEED=2 npm run mutants -- core
 */
import { availableParallelism } from 'node:os';
import { ensureBuilt, ensureInstalled } from './lib/steps.mjs';
import { tryCore } from './mutants/core.mjs';
import { tryServer } from './mutants/server.mjs';

const PER_FOLDER = Number(process.env.MUTANTS_PER_FOLDER || 40);
const SEED = Number(process.env.MUTANTS_SEED || 1);
/** Less than these are a fault. */
const MIN_OF_FOLDER = 0.75;
const MIN_OF_CORE = 0.85;
const MIN_OF_SERVER = 0.9;

const [part = 'all', ...only] = process.argv.slice(2);
await ensureInstalled();
let isEnough = true;

function say(name, { noticed, tried }, least) {
  const share = tried === 0 ? 1 : noticed / tried;
  isEnough &&= share >= least;
  console.log(`${name} ${(100 * share).toFixed(1)} % (${noticed} of ${tried} noticed; at least ${100 * least} %)`);
}

if (part === 'all' || part === 'core') {
  const scores = await tryCore({
    perFolder: PER_FOLDER,
    seed: SEED,
    only,
    atOnce: Math.max(1, availableParallelism()),
    tell: console.log,
  });
  const sum = { noticed: 0, tried: 0 };
  for (const [folder, score] of scores) {
    say(`core/${folder}`, score, MIN_OF_FOLDER);
    sum.noticed += score.noticed;
    sum.tried += score.tried;
  }
  say('core', sum, MIN_OF_CORE);
}
if (part === 'all' || part === 'server') {
  await ensureBuilt();
  say('server', await tryServer({ only, tell: console.log }), MIN_OF_SERVER);
}
process.exitCode = isEnough ? 0 : 1;
