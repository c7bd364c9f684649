/* A backup now: to the folder KIRAKU_BACKUP, while Kiraku may be running. */
import { runProgram } from './lib/steps.mjs';

await runProgram('makeBackup');
