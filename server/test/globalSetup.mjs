import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { bundleForTests } from './bundle.mjs';

/** A folder for what all files of tests can share; each worker of Jest inherits where it is. */
export default async function globalSetup() {
  process.env['KIRAKU_TESTS'] = mkdtempSync(join(tmpdir(), 'kiraku-tests-'));
  await bundleForTests();
}
