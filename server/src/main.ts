import { mkdirSync } from 'node:fs';
import { createApp, openApp } from './app.js';
import { readConfig } from './environment/config.js';
import { log } from './environment/log.js';
import { portFreed } from './environment/portFreed.js';
import { claimDesk, claimDeskAfter } from './store/deskClaim.js';
import { keepPrivate } from './store/keepPrivate.js';
import { SessionService } from './session/session.service.js';

// Whoever loses its supervisor makes room for the next desk, also while it begins: two would send twice.
process.on('disconnect', () => process.kill(process.pid, 'SIGTERM'));
if (process.send && !process.connected) process.exit(1);

const config = readConfig();
const warning = keepPrivate(config.dataDir);
if (warning) log('warning', 'Kiraku', warning);
mkdirSync(config.dataDir, { recursive: true });
if (!claimDesk(config)) {
  log('info', 'Kiraku', `Waiting: another process works on ${config.dataDir}.`);
  await claimDeskAfter(config);
  // Another version may have taken the place of what was loaded here: whatever is in its place begins.
  process.exit(0);
}
await portFreed(config.host, config.port);
const app = await createApp(config);
app.enableShutdownHooks(['SIGINT', 'SIGTERM']);
const port = await openApp(app, config);

const desk = `http://${config.host}:${port}`;
const sessions = app.get(SessionService);
console.log(`Kiraku            ${sessions.isSetUp() ? desk : `${desk}/set-up#${sessions.setUpCode}`}`);
console.log(`Public address    ${config.publicUrl}`);
