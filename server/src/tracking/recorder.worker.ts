import { parentPort, workerData } from 'node:worker_threads';
import { openDatabase } from '../store/database.js';
import { EventWriter } from './eventWriter.js';
import type { Arrival } from './arrival.js';
import { HitWriter, type HitOutcome } from './hitWriter.js';
import { Places } from './places.js';

/** What the thread is given: what came to the public site, or messages whose hits are to be judged anew. */
export type RecorderTask = { arrivals: Arrival[] } | { rejudge: number[]; now: number };
/** What it answers, in the order of its tasks, once all is durable. */
export type RecorderReply = { outcomes: HitOutcome[] } | { changed: number } | { error: string };

const database = openDatabase(workerData as string);
const places = new Places();
const hitWriter = new HitWriter(database, places);
const eventWriter = new EventWriter(database);
const write = database.$client.transaction((arrivals: Arrival[]) => hitWriter.write(arrivals));
const rejudge = database.$client.transaction((messageIds: number[], now: number) =>
  messageIds.reduce((changed, messageId) => changed + eventWriter.rejudge(messageId, now), 0),
);

parentPort!.on('message', (task: RecorderTask) => {
  parentPort!.postMessage(done(task));
});

parentPort!.postMessage('ready');

function done(task: RecorderTask): RecorderReply {
  try {
    return 'arrivals' in task
      ? { outcomes: write.immediate(task.arrivals) }
      : { changed: rejudge.immediate(task.rejudge, task.now) };
  } catch (error) {
    hitWriter.forget();
    return { error: error instanceof Error ? (error.stack ?? error.message) : String(error) };
  }
}
