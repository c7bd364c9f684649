/*
 * Prints all text of all main views, on the demo’s data, on a wide screen and on a phone: to be read aloud from
 * beginning to end. Fails where a word is among those that scripts/vocabulary.json says were replaced.
 */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, ROOT, run } from './lib/steps.mjs';

await ensureInstalled();
await ensureBuilt();
const env = { ...process.env, CHROMIUM: process.env.CHROMIUM || '/usr/bin/chromium' };
const failed = await run(
  'npx',
  ['playwright', 'test', '--config', 'e2e/playwright.config.ts', 'allViews', '-g', 'no view'],
  { env },
).catch((error) => error);
for (const width of [1280, 390])
  console.log(`\n== ${width} pixels\n${readFileSync(join(ROOT, `.test/words-${width}.txt`), 'utf8')}`);
process.exitCode = failed ? 1 : 0;
