/* Makes the version in this folder ready to start: its packages, and what is built of it. */
import { ensureBuilt, ensureInstalled } from './lib/steps.mjs';

await ensureInstalled();
await ensureBuilt();
