import { once } from 'node:events';
import { Worker } from 'node:worker_threads';
import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import { Clock } from '../environment/clock.js';
import { CONFIG, databaseFile, type Config } from '../environment/config.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { DATABASE, type Database } from '../store/database.js';
import { programFile } from '../process/program.js';
import { EventWriter, type PlainEvent } from './eventWriter.js';
import type { Arrival } from './arrival.js';
import type { HitOutcome } from './hitWriter.js';
import type { RecorderReply, RecorderTask } from './recorder.worker.js';
import { compileStatements } from './statements.js';
import { Targets, type HitTarget } from './targets.js';

interface Waiting {
  arrival: Arrival;
  resolve(outcome: HitOutcome): void;
  reject(error: Error): void;
}

/** A task that the thread has, and what is done with its answer. */
type OnReply = (reply: RecorderReply) => void;

/** More hits than this wait in no queue: what comes then is refused, so that memory stays bounded. */
const MAX_QUEUED_HITS = 20_000;
/** As many as go into one transaction, so that other writers get their turn between two. */
const MAX_HITS_PER_COMMIT = 500;

export class TooBusyError extends Error {}

/**
 * The way to the one writer of events. Hits that come while a transaction is being written form the next one (group
 * commit), and a hit's promise resolves only when it is durable. The writing happens in a thread of its own, so that
 * waiting for the disk holds nobody on the public site; what needs no such speed is written in place.
 */
@Injectable()
export class Recorder implements OnApplicationShutdown {
  private readonly logger = new Logger(Recorder.name);
  private readonly writer: EventWriter;
  private readonly targets: Targets;
  private waiting: Waiting[] = [];
  private isWriting = false;
  /** In the order in which the thread will answer. */
  private replies: OnReply[] = [];
  private worker: Worker | undefined;
  /** Resolves with the thread’s first message. */
  private ready: Promise<unknown> | undefined;
  private idle: (() => void) | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    @Inject(DATABASE) database: Database,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {
    this.writer = new EventWriter(database);
    this.targets = new Targets(compileStatements(database));
  }

  /** Starts the thread ahead of the first visitor. Resolves when it can write. */
  async open(): Promise<void> {
    this.worker ??= this.start();
    await this.ready;
  }

  /**
   * Judges and records a hit, or writes down what was read. Resolves when it is durable, to where it leads.
   *
   * @throws TooBusyError where too many hits are waiting already
   */
  record(arrival: Arrival): Promise<HitOutcome> {
    if (this.waiting.length >= MAX_QUEUED_HITS) return Promise.reject(new TooBusyError('Too many hits at once'));
    return new Promise((resolve, reject) => {
      this.waiting.push({ arrival, resolve, reject });
      // After the requests that are already readable: they join this transaction.
      if (!this.isWriting && this.waiting.length === 1) setImmediate(() => this.next());
    });
  }

  /** Where a token leads, recording nothing. */
  check(kind: HitTarget, token: string): HitOutcome {
    const target = this.targets.find(kind, token);
    return { known: target !== null, url: target?.url ?? null, reads: false };
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

  /** Judges the hits of many messages again, in the thread. Resolves to how many changed. */
  rejudgeMessages(messageIds: number[]): Promise<number> {
    return new Promise((resolve, reject) => {
      this.give({ rejudge: messageIds, now: this.clock.now() }, (reply) => {
        if ('changed' in reply) resolve(reply.changed);
        else reject(new Error('error' in reply ? reply.error : 'Not judged'));
      });
    });
  }

  /**
   * Sets the sender's own verdict on a hit; null leaves it to the rules again.
   *
   * @returns the message; undefined where the event is none that can be judged
   */
  setOverride(eventId: number, counted: boolean | null): number | undefined {
    return this.unit.commit(() => this.writer.setOverride(eventId, counted, this.clock.now()));
  }

  /** Lets a reply count, or not, as the user says. */
  setReplyCounted(incomingId: number, counted: boolean): void {
    this.unit.commit(() => this.writer.setReplyCounted(incomingId, counted, this.clock.now()));
  }

  /** After the public site has answered its last visitor: what was accepted is written. */
  async onApplicationShutdown(): Promise<void> {
    if (this.waiting.length + this.replies.length > 0) await new Promise<void>((resolve) => (this.idle = resolve));
    await this.worker?.terminate();
  }

  private next(): void {
    if (this.isWriting || this.waiting.length === 0) return;
    const group = this.waiting.splice(0, MAX_HITS_PER_COMMIT);
    this.isWriting = true;
    this.give({ arrivals: group.map(({ arrival }) => arrival) }, (reply) => {
      this.isWriting = false;
      // The next group is on its way to the disk while this one is answered.
      this.next();
      this.respond(group, reply);
    });
  }

  private give(task: RecorderTask, replied: OnReply): void {
    this.worker ??= this.start();
    this.replies.push(replied);
    this.worker.postMessage(task);
  }

  private start(): Worker {
    const worker = new Worker(programFile('recorder.worker'), {
      workerData: databaseFile(this.config),
    });
    this.ready = once(worker, 'message');
    this.ready.catch(() => undefined);
    worker.on('message', (reply: RecorderReply | 'ready') => {
      if (reply !== 'ready') this.replied(this.replies.shift()!, reply);
    });
    worker.on('error', (error) => {
      this.worker = undefined;
      for (const replied of this.replies.splice(0)) this.replied(replied, { error: error.stack ?? error.message });
    });
    return worker;
  }

  private replied(replied: OnReply, reply: RecorderReply): void {
    replied(reply);
    if (this.waiting.length + this.replies.length === 0) this.idle?.();
  }

  private respond(group: readonly Waiting[], reply: RecorderReply): void {
    if (!('outcomes' in reply)) {
      this.logger.error(`${group.length} hits could not be recorded`, 'error' in reply ? reply.error : undefined);
      for (const { reject } of group) reject(new Error('Not recorded'));
      return;
    }
    group.forEach(({ resolve }, index) => resolve(reply.outcomes[index]!));
    this.changes.announce();
  }
}
