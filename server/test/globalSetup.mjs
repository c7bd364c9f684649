import { mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** A folder for what all files of tests can share; each worker of Jest inherits where it is. */
export default function globalSetup() {
  process.env['KIRAKU_TESTS'] = mkdtempSync(join(tmpdir(), 'kiraku-tests-'));
}
