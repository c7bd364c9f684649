/* The server on a clock that can be moved on: by as many milliseconds as stand in a file of the data folder. */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { createApp, openApp } from '@kiraku/server/app';
import { readConfig } from '@kiraku/server/environment/config';

const config = readConfig();
const file = join(config.dataDir, 'clock-ahead');

class MovedClock {
  now() {
    try {
      return Date.now() + Number(readFileSync(file, 'utf8'));
    } catch {
      return Date.now();
    }
  }
}

await openApp(await createApp(config, new MovedClock()), config);
