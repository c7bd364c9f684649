/* A new passphrase, for who sits at the machine and has forgotten the old one. */
import { runProgram } from './lib/steps.mjs';

await runProgram('resetPassphrase');
