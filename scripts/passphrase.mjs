/* A new passphrase, for who sits at the machine and has forgotten the old one. */
import { ensureBuilt, ensureInstalled, start } from './lib/steps.mjs';

await ensureInstalled();
await ensureBuilt();
start(['server/dist/bundle/resetPassphrase.js']).on('exit', (code) => (process.exitCode = code ?? 1));
