/* What works and what does not: asks the desk that runs on the data folder. */
import { runProgram } from './lib/steps.mjs';

await runProgram('checkUp');
