import { once } from 'node:events';
import { readdirSync } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { Clock } from '../environment/clock.js';
import { CONFIG, databaseFile, journalFolder, type Config } from '../environment/config.js';
import { isSegment } from '../journal/journalFiles.js';
import { watchJournal } from '../journal/watchJournal.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { DATABASE, type Database } from '../store/database.js';
import { programFile } from '../process/program.js';
import { EventWriter, type PlainEvent } from './eventWriter.js';
import type { Arrival } from './arrival.js';
import { OptOuts } from './optOuts.js';
import type { RecorderData, RecorderNews, RecorderOrder, RecorderTask } from './recorder.worker.js';

/** The thread is started by then even if nothing has come. Sooner, it would take time from the start of the desk. */
const START_AFTER_MS = 5000;
/** A thread that has failed is started again after this pause. */
const RESTART_AFTER_MS = 1000;

interface Waiting {
  resolve(count: number): void;
  reject(error: Error): void;
}

/**
 * The way to the one writer of events. What the public site has written into its journal is judged and recorded in a
 * thread of its own, so that nobody at the desk waits for it; what needs no judging is written in place.
 */
@Injectable()
export class Recorder implements OnApplicationShutdown {
  private readonly logger = new Logger(Recorder.name);
  private readonly writer: EventWriter;
  private readonly waiting = new Map<number, Waiting>();
  private lastId = 0;
  private worker: Worker | undefined;
  private stopWaiting: (() => void) | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    @Inject(DATABASE) database: Database,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    private readonly optOuts: OptOuts,
    private readonly clock: Clock,
  ) {
    this.writer = new EventWriter(database);
  }

  /**
   * Follows the journal from now on. Resolves when what came while nobody did has been judged and recorded; where nothing
   * has, the thread starts with what comes first, or a little later.
   */
  async follow(): Promise<void> {
    const folder = journalFolder(this.config);
    const stopWatching = watchJournal(folder, () => this.begin());
    const late = setTimeout(() => this.begin(), START_AFTER_MS);
    this.stopWaiting = () => {
      stopWatching();
      clearTimeout(late);
    };
    if (readdirSync(folder).some(isSegment)) await this.caughtUp();
  }

  /** Resolves when what is in the journal now has been judged and recorded. */
  async caughtUp(): Promise<void> {
    await this.give('catchUp');
  }

  /** Judges and records what came to the public site, without the journal. Resolves when it is durable. */
  async record(arrivals: Arrival[]): Promise<void> {
    await this.give({ arrivals });
    this.changes.announce();
  }

  /** Records an event that counts. */
  recordPlain(plain: PlainEvent): void {
    this.unit.commit(() => this.writer.write(plain));
  }

  /** Judges the hits of one message again. */
  rejudge(messageId: number): void {
    this.unit.commit(() => this.writer.rejudge(messageId, this.clock.now()));
  }

  /** Counts a message from what is written of it, within the caller's transaction. */
  recount(messageId: number): void {
    this.writer.recount(messageId);
  }

  /** Judges some more of what is past again, in the thread. Resolves to how many hits count otherwise than before. */
  rejudgePast(): Promise<number> {
    return this.give({ rejudgePastAt: this.clock.now() });
  }

  /**
   * Sets the sender's own verdict on hits; null leaves them to the rules again.
   *
   * @returns those of the events that can be judged
   */
  setOverrides(eventIds: readonly number[], counted: boolean | null): number[] {
    return this.unit.commit(() => this.writer.setOverrides(eventIds, counted, this.clock.now()));
  }

  /** Lets a reply count, or not, as the user says. */
  setReplyCounted(incomingId: number, counted: boolean): void {
    this.unit.commit(() => this.writer.setReplyCounted(incomingId, counted, this.clock.now()));
  }

  /** Ends the thread once what it has begun is written; the journal keeps the rest for the next start. */
  async onApplicationShutdown(): Promise<void> {
    this.stopWaiting?.();
    const worker = this.worker;
    if (!worker) return;
    this.worker = undefined;
    const ended = once(worker, 'exit');
    worker.postMessage('end' satisfies RecorderOrder);
    await ended;
  }

  private give(task: RecorderTask): Promise<number> {
    const worker = (this.worker ??= this.start());
    const id = (this.lastId += 1);
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      worker.postMessage({ id, task } satisfies RecorderOrder);
    });
  }

  private begin(): void {
    this.caughtUp().catch(() => undefined);
  }

  private start(): Worker {
    this.stopWaiting?.();
    const workerData: RecorderData = {
      databaseFile: databaseFile(this.config),
      journal: journalFolder(this.config),
    };
    const worker = new Worker(programFile('recorder.worker'), { workerData });
    worker.on('message', (news: RecorderNews) => this.receive(worker, news));
    worker.on('error', (error) => this.logger.error('Recording has failed', error.stack));
    worker.on('exit', () => {
      for (const { reject } of this.waiting.values()) reject(new Error('Recording has ended'));
      this.waiting.clear();
      if (this.worker !== worker) return;
      this.worker = undefined;
      setTimeout(() => this.begin(), RESTART_AFTER_MS).unref();
    });
    return worker;
  }

  private receive(worker: Worker, news: RecorderNews): void {
    if (news === 'applied') return this.changes.announce();
    if ('problem' in news) return this.logger.error(news.problem);
    if ('choice' in news) return worker.postMessage({ acted: this.optOuts.apply(news) } satisfies RecorderOrder);
    const waiting = this.waiting.get(news.id);
    this.waiting.delete(news.id);
    if ('done' in news) waiting?.resolve(news.done);
    else waiting?.reject(new Error(news.error));
  }
}
