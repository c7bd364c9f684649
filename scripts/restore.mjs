/* Brings a backup of the folder KIRAKU_BACKUP back to an empty data folder: the newest, or the one that is named. */
import { runProgram } from './lib/steps.mjs';

await runProgram('restoreBackup', process.argv.slice(2));
