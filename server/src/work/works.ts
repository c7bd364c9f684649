import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import { asyncScheduler, throttleTime, type Subscription } from 'rxjs';
import type { WorkView } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { Changes } from '../store/changes.js';
import { DueWork, type Work } from './dueWork.js';

/** All work that is due at times of its own: begun together once the ports are open, and stopped together. */
@Injectable()
export class Works implements BeforeApplicationShutdown {
  private readonly all: DueWork[] = [];
  private readonly subscriptions: Subscription[] = [];

  constructor(
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Call it where the work belongs to, when that is made. */
  add(work: Work): DueWork {
    const due = new DueWork(work, this.clock);
    this.all.push(due);
    return due;
  }

  /** Runs everything once, and from then on when it is due. */
  start(): void {
    for (const due of this.all) {
      const { commitPauseMs } = due.work;
      if (commitPauseMs !== undefined) this.subscriptions.push(this.followCommits(due, commitPauseMs));
      due.wake();
    }
  }

  async beforeApplicationShutdown(): Promise<void> {
    for (const subscription of this.subscriptions) subscription.unsubscribe();
    await Promise.all(this.all.map((due) => due.stop()));
  }

  views(): WorkView[] {
    return this.all.map((due) => due.view());
  }

  private followCommits(due: DueWork, pauseMs: number): Subscription {
    return this.changes.announced
      .pipe(throttleTime(pauseMs, asyncScheduler, { leading: true, trailing: true }))
      .subscribe(() => due.wake());
  }
}
