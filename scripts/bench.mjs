/* The benchmarks, one after the other: each line is “name value unit”. A name as argument runs only that one. */
import { ensureBuilt, ensureInstalled, run } from './lib/steps.mjs';

const BENCHMARKS = [
  'instrumenting',
  'judging',
  'recording',
  'hitToPage',
  'killed',
  'killedHits',
  'flood',
  'large',
  'lists',
  'rounds',
  'scrolling',
  'presses',
  'files',
  'mail',
  'largeMail',
];

await ensureInstalled();
await ensureBuilt();
const chosen = process.argv.slice(2);
for (const name of BENCHMARKS) {
  if (chosen.length > 0 && !chosen.includes(name)) continue;
  console.log(`# ${name}`);
  await run(process.execPath, [`bench/dist/${name}.js`]);
}
