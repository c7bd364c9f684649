import { Worker } from 'node:worker_threads';
import { Inject, Injectable, type OnApplicationShutdown } from '@nestjs/common';
import type { ReportFilter, ReportView, SubjectOutcome } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { CONFIG, databaseFile, type Config } from '../environment/config.js';
import { programFile } from '../process/program.js';
import type { Made, ReportNews, ReportOrder } from './reports.worker.js';

/** Whoever looks at one report looks at another soon; else the thread’s memory is given back. */
const REPORTS_IDLE_MS = MINUTE;

interface Waiting {
  resolve(made: Made[keyof Made]): void;
  reject(error: Error): void;
}

/** Lets reports be made in a thread of their own: of very many messages one takes a second, for which nobody waits. */
@Injectable()
export class ReportsService implements OnApplicationShutdown {
  private readonly waiting = new Map<number, Waiting>();
  private lastId = 0;
  private worker: Worker | undefined;
  private idle: NodeJS.Timeout | undefined;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly clock: Clock,
  ) {}

  /** What can be learnt from the messages of a filter. */
  report(filter: ReportFilter): Promise<ReportView> {
    return this.ask('report', filter);
  }

  /** The subjects that several messages of a filter have, the most used first, with what became of these. */
  subjects(filter: ReportFilter): Promise<SubjectOutcome[]> {
    return this.ask('subjects', filter);
  }

  private ask<What extends keyof Made>(what: What, filter: ReportFilter): Promise<Made[What]> {
    const worker = (this.worker ??= this.start());
    clearTimeout(this.idle);
    const id = (this.lastId += 1);
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve: (made) => resolve(made as Made[What]), reject });
      worker.postMessage({ id, what, filter, now: this.clock.now() } satisfies ReportOrder);
    });
  }

  async onApplicationShutdown(): Promise<void> {
    await this.release();
    this.fail(new Error('Kiraku is ending'));
  }

  /** Ends the thread; the next report starts another. */
  async release(): Promise<void> {
    clearTimeout(this.idle);
    const { worker } = this;
    this.worker = undefined;
    await worker?.terminate();
  }

  private start(): Worker {
    const worker = new Worker(programFile('reports.worker'), { workerData: databaseFile(this.config) });
    let failure = new Error('The report could not be made');
    worker.on('message', (news: ReportNews) => this.receive(news));
    worker.on('error', (error) => (failure = error));
    worker.on('exit', () => {
      // Of one that was released nobody waits for anything.
      if (this.worker !== worker) return;
      this.worker = undefined;
      this.fail(failure);
    });
    return worker;
  }

  private fail(error: Error): void {
    for (const { reject } of this.waiting.values()) reject(error);
    this.waiting.clear();
  }

  private receive(news: ReportNews): void {
    const waiting = this.waiting.get(news.id);
    this.waiting.delete(news.id);
    if ('error' in news) waiting?.reject(new Error(news.error));
    else waiting?.resolve(news.made);
    if (this.waiting.size === 0) this.idle = setTimeout(() => void this.release(), REPORTS_IDLE_MS).unref();
  }
}
