import 'reflect-metadata';
import type { AddressInfo } from 'node:net';
import { createApp } from '../app.js';
import { databaseFile, readConfig, type Config } from '../environment/config.js';
import { openDatabase } from '../store/database.js';
import { keepPrivate } from '../store/keepPrivate.js';
import { Recorder } from '../tracking/recorder.js';

/*
 * A program of its own, which the version before runs of the new one: brings the database of the data folder to this version
 * and looks it through. With “desk” it also starts a desk on it and asks it, on a port of its own: nothing is sent, fetched or
 * accepted. It ends with 0 where all is well.
 */

const ASKED = ['/health', '/', '/api/session', '/api/openapi.json'];

const config = readConfig();
keepPrivate(config.dataDir);
try {
  migrated(config);
  if (process.argv[2] === 'desk') await tried(config);
  process.exit(0);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exit(1);
}

/** Leaves all in the one file. @throws where the database is not whole */
function migrated({ dataDir }: Config): void {
  const { $client: client } = openDatabase(databaseFile({ dataDir }));
  const found = client.pragma('quick_check(1)', { simple: true });
  if (found !== 'ok') throw new Error(`The database is damaged: ${String(found)}.`);
  const dangling = client.pragma('foreign_key_check') as { table: string }[];
  if (dangling[0]) throw new Error(`A row of ${dangling[0].table} refers to one that there is not.`);
  client.pragma('wal_checkpoint(truncate)');
  client.close();
}

async function tried(config: Config): Promise<void> {
  const app = await createApp(config);
  await app.listen(0, '127.0.0.1');
  const { port } = app.getHttpServer().address() as AddressInfo;
  for (const path of ASKED) {
    const { status } = await fetch(`http://127.0.0.1:${port}${path}`);
    if (status !== 200) throw new Error(`The new version responds to ${path} with ${status}.`);
  }
  await app.get(Recorder).caughtUp();
  await app.close();
}
