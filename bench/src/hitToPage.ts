import { existsSync } from 'node:fs';
import { benchFolder } from './lib/folder.js';
import { CHROMIUM, reportHitToPage } from './lib/hitToPage.js';
import { startServer, stopServer } from './lib/processes.js';
import { seed } from './lib/seed.js';
import { openSession } from './lib/session.js';

/* From a hit at the public site to its mark on the open page, while 200 other hits a second come in; and what the page costs. */
const MESSAGES = 2000;

if (!existsSync(CHROMIUM)) {
  console.log('# hit to page: skipped, Chromium is missing');
  process.exit(0);
}

const { config, remove } = benchFolder(4873);
const { imageTokens } = seed(config, MESSAGES);
const session = await openSession(config);
const server = await startServer(config);
await reportHitToPage(config, session, imageTokens);
await stopServer(server);
remove();
