/* Kiraku on your own data. The first start prints an address that leads through set-up. */
import { ensureBuilt, ensureInstalled, SERVER, start } from './lib/steps.mjs';

await ensureInstalled();
await ensureBuilt();
const child = start(SERVER);
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP']) process.on(signal, () => child.kill('SIGTERM'));
child.on('exit', (code) => (process.exitCode = code ?? 1));
