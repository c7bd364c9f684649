/* Takes a new version in, while Kiraku runs; or goes on with the one before where the new one does not work. */
import { runProgram } from './lib/steps.mjs';

await runProgram('update', process.argv.slice(2));
