/*
 * Some tests, soon: those of the core and of the page, or those that are named by their path, as
 * “npm run test:unit -- server/test/people”. What runs as it is built is built first.
 */
import { ensureBuilt, ensureInstalled, runJest } from './lib/steps.mjs';

const asked = process.argv.slice(2);
await ensureInstalled();
if (asked.some((path) => /^(server|standin|demo)\b/.test(path))) await ensureBuilt();
const which = asked.length > 0 ? asked : ['--selectProjects', 'core', 'web'];
await runJest(which).catch(() => (process.exitCode = 1));
