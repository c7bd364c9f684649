import { existsSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { databaseFile, readConfig } from '../environment/config.js';
import { Updating } from './updating.js';

/*
 * A program of its own: takes a new version in, while Kiraku runs. What comes after the command is the folder of a version, or
 * what git calls it; without it, the newest is taken.
 */

const ROOT = fileURLToPath(new URL('../../../', import.meta.url));

try {
  const config = readConfig();
  if (!existsSync(databaseFile(config)))
    throw new Error(
      `There is no Kiraku in ${config.dataDir}. Set KIRAKU_DATA or KIRAKU_CONFIG as Kiraku itself has them.`,
    );
  await new Updating(config, ROOT, (text) => console.log(text)).run(process.argv[2]);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
