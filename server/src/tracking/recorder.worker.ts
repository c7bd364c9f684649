import { constants, setPriority } from 'node:os';
import { setTimeout as pause } from 'node:timers/promises';
import { parentPort, workerData } from 'node:worker_threads';
import { isFaultOfEntry } from '../journal/faults.js';
import { Follower } from '../journal/follower.js';
import { Positions, type Position } from '../journal/positions.repository.js';
import { watchJournal } from '../journal/watchJournal.js';
import { openDatabase } from '../store/database.js';
import { EventWriter } from './eventWriter.js';
import type { Arrival, JournalEntry, PublicChoice } from './arrival.js';
import { HitWriter } from './hitWriter.js';
import { PastActivity } from './pastActivity.js';
import { Places } from './places.js';

export interface RecorderData {
  databaseFile: string;
  /** Where the journal of the public site lies. */
  journal: string;
}

/** Work with an outcome: what is to be recorded, some more of the past to be judged again, all that the journal holds now. */
export type RecorderTask = { arrivals: Arrival[] } | { rejudgePastAt: number } | 'catchUp';
/** What the thread is given: a task; the word that a recipient’s choice was acted on, or why not; to end. */
export type RecorderOrder = { id: number; task: RecorderTask } | { acted: string | null } | 'end';
/** What it says: that a task is done, once all is durable; that something was applied; a choice to be acted on; what is for the log. */
export type RecorderNews =
  | { id: number; done: number }
  | { id: number; error: string }
  | { choice: PublicChoice; from: Position; to: Position }
  | { problem: string }
  | 'applied';

/** Of many hits, those that come within this time are applied together: sooner than an eye can follow, and cheap. */
const GATHER_HITS_MS = 15;
/** Where the system does not say that the journal has grown, it is looked at. */
const JOURNAL_RECHECK_MS = 1000;
/** After an error: a full disk, another process that holds the database. */
const APPLY_RETRY_MS = 1000;

/**
 * So much of the time of a transaction the database is left to other writers after it: who waits for the lock looks for it
 * now and then, and must find it free.
 */
const SHARE_FOR_OTHERS = 0.25;

const { databaseFile, journal } = workerData as RecorderData;
const port = parentPort!;
const database = openDatabase(databaseFile);
const positions = new Positions(database);
const hitWriter = new HitWriter(database, new Places());
const eventWriter = new EventWriter(database);
const write = database.$client.transaction((arrivals: Arrival[]) => hitWriter.write(arrivals));
const writeFromJournal = database.$client.transaction((arrivals: Arrival[], from: Position, to: Position) => {
  hitWriter.write(arrivals);
  positions.move(from, to);
});
const past = new PastActivity(database);
const rejudgePast = database.$client.transaction((now: number) => past.judgeNext(eventWriter, now));
const follower = new Follower<JournalEntry>(journal, positions, {
  apply: applyFromJournal,
  lost: (run, what) => say({ problem: `The journal ${run}: ${what}` }),
});

// The public site and the desk come first: what they do is waited for. On Linux this is the thread’s own priority.
if (process.platform === 'linux') setPriority(constants.priority.PRIORITY_BELOW_NORMAL);

let following: Promise<void> | undefined;
let isWoken = false;
let gathering: NodeJS.Timeout | undefined;
let isEnding = false;
let acted: ((problem: string | null) => void) | undefined;

const stopWatching = watchJournal(journal, () => (gathering ??= setTimeout(wake, GATHER_HITS_MS)));
const looking = setInterval(wake, JOURNAL_RECHECK_MS);
port.on('message', (order: RecorderOrder) => void take(order));

async function take(order: RecorderOrder): Promise<void> {
  if (order === 'end') return end();
  if ('acted' in order) return acted?.(order.acted);
  const { id, task } = order;
  await done(task).then(
    (count) => say({ id, done: count }),
    (error: unknown) => say({ id, error: wordsOf(error) }),
  );
}

async function done(task: RecorderTask): Promise<number> {
  if (task === 'catchUp') {
    // What is under way may have begun before the last entry came.
    await following;
    await wake();
    return 0;
  }
  if ('rejudgePastAt' in task) return leavingRoom(() => rejudgePast.immediate(task.rejudgePastAt));
  orForget(() => write.immediate(task.arrivals));
  return task.arrivals.length;
}

/** Applies what has come. Resolves when nothing is left. */
function wake(): Promise<void> {
  clearTimeout(gathering);
  gathering = undefined;
  isWoken = true;
  return (following ??= follow().finally(() => (following = undefined)));
}

async function follow(): Promise<void> {
  while (isWoken && !isEnding) {
    isWoken = false;
    try {
      await follower.catchUp();
    } catch (error) {
      say({ problem: `The journal could not be applied: ${wordsOf(error)}` });
      setTimeout(() => void wake(), APPLY_RETRY_MS);
      return;
    }
  }
}

/** Applies hits up to the first choice of a recipient, which the desk acts on. */
async function applyFromJournal(entries: JournalEntry[], from: Position, at: Position[]): Promise<number> {
  const [first] = entries;
  if ('choice' in first!) {
    await act(first, from, at[0]!);
    return 1;
  }
  const choice = entries.findIndex((entry) => 'choice' in entry);
  const arrivals = (choice === -1 ? entries : entries.slice(0, choice)) as Arrival[];
  return leavingRoom(() => {
    const taken = applySome(arrivals, from, at);
    say('applied');
    return taken;
  });
}

/** Does what is one transaction or more, and leaves the database to others afterwards. */
async function leavingRoom(work: () => number): Promise<number> {
  const began = performance.now();
  const count = work();
  await pause((performance.now() - began) * SHARE_FOR_OTHERS);
  return count;
}

/** All of them, or fewer where one cannot be applied; that one is left out. Returns how many. */
function applySome(arrivals: Arrival[], from: Position, at: Position[]): number {
  for (let count = arrivals.length; ; count = Math.ceil(count / 2)) {
    try {
      orForget(() => writeFromJournal.immediate(arrivals.slice(0, count), from, at[count - 1]!));
      return count;
    } catch (error) {
      if (!isFaultOfEntry(error)) throw error;
      if (count > 1) continue;
      say({ problem: `An entry of the journal could not be applied and is left out: ${wordsOf(error)}` });
      writeFromJournal.immediate([], from, at[0]!);
      return 1;
    }
  }
}

async function act(choice: PublicChoice, from: Position, to: Position): Promise<void> {
  const problem = await new Promise<string | null>((resolve) => {
    acted = resolve;
    say({ choice, from, to });
  });
  if (problem !== null) throw new Error(problem);
}

/** What was remembered of a transaction that did not come about never happened. */
function orForget(work: () => void): void {
  try {
    work();
  } catch (error) {
    hitWriter.forget();
    throw error;
  }
}

async function end(): Promise<void> {
  isEnding = true;
  stopWatching();
  clearInterval(looking);
  await following;
  database.$client.close();
  process.exit();
}

function say(news: RecorderNews): void {
  port.postMessage(news);
}

function wordsOf(error: unknown): string {
  return error instanceof Error ? (error.stack ?? error.message) : String(error);
}
