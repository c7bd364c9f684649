import { Logger } from '@nestjs/common';
import type { WorkView } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import type { Clock } from '../environment/clock.js';

/** A timer longer than this is set again: the clock may have been changed, or the machine have slept. */
const MAX_SLEEP_MS = MINUTE;
/** Work that says that more is due already leaves others their turn. */
const MIN_SLEEP_MS = 100;
/** After an error, so that it is not repeated without pause. */
const WORK_RETRY_MS = MINUTE;
/** How long a stop waits for what is under way; the next start goes on with it. */
const STOP_DEADLINE_MS = 10_000;

export interface Work {
  /** As the health report and the log call it. */
  name: string;
  /**
   * Does what is due. Never called while it still runs.
   *
   * @param stopping is aborted when the server stops: what is not begun is left for the next start
   * @returns when something is due next, in epoch milliseconds; null while nothing is, until it is woken
   * @throws what is logged, and tried again in a minute
   */
  run(stopping: AbortSignal): number | null | Promise<number | null>;
  /** For whoever has work after each commit: the pause between two wakes by commits. */
  commitPauseMs?: number;
}

/** Work that is due at certain times, or when it is woken: one at a time, with a pause after an error. */
export class DueWork {
  private readonly logger: Logger;
  private readonly stopping = new AbortController();
  private timer: NodeJS.Timeout | undefined;
  private running: Promise<void> | undefined;
  private isRunning = false;
  private isWokenMeanwhile = false;
  private nextRunAt: number | null = null;
  private lastRunAt: number | null = null;
  private lastError: WorkView['lastError'] = null;

  constructor(
    readonly work: Work,
    private readonly clock: Clock,
  ) {
    this.logger = new Logger(work.name);
  }

  /** Runs now; where it runs already, once more when that has ended. */
  wake(): void {
    if (this.stopping.signal.aborted) return;
    if (this.isRunning) {
      this.isWokenMeanwhile = true;
      return;
    }
    this.begin();
  }

  /** Notes an error of something that the work began and did not wait for, and pauses. */
  fail(error: unknown): void {
    this.logger.error('Failed', error instanceof Error ? error.stack : String(error));
    const text = error instanceof Error ? error.message : String(error);
    this.lastError = { at: this.clock.now(), text };
    this.sleepUntil(this.clock.now() + WORK_RETRY_MS);
  }

  /** Resolves when it neither runs nor has been woken. */
  async idle(): Promise<void> {
    while (this.running) await this.running;
  }

  /** Begins nothing any more. Resolves when what is under way has ended, or after a deadline. */
  async stop(): Promise<void> {
    this.stopping.abort();
    clearTimeout(this.timer);
    let deadline: NodeJS.Timeout | undefined;
    const late = new Promise<void>((resolve) => {
      deadline = setTimeout(resolve, STOP_DEADLINE_MS);
      deadline.unref();
    });
    await Promise.race([this.idle(), late]);
    clearTimeout(deadline);
  }

  view(): WorkView {
    const { lastRunAt, nextRunAt, lastError } = this;
    return { name: this.work.name, isRunning: this.isRunning, lastRunAt, nextRunAt, lastError };
  }

  private begin(): void {
    clearTimeout(this.timer);
    this.isRunning = true;
    this.isWokenMeanwhile = false;
    this.lastRunAt = this.clock.now();
    try {
      const outcome = this.work.run(this.stopping.signal);
      if (!(outcome instanceof Promise)) return this.ended(outcome);
      this.running = outcome.then(
        (next) => this.ended(next),
        (error: unknown) => this.broken(error),
      );
    } catch (error) {
      this.broken(error);
    }
  }

  private ended(next: number | null): void {
    this.leave();
    this.lastError = null;
    if (this.stopping.signal.aborted) return;
    if (this.isWokenMeanwhile) this.begin();
    else this.sleepUntil(next);
  }

  private broken(error: unknown): void {
    this.leave();
    // What a stop breaks off is no fault.
    if (!this.stopping.signal.aborted) this.fail(error);
  }

  private leave(): void {
    this.isRunning = false;
    this.running = undefined;
  }

  private sleepUntil(at: number | null): void {
    clearTimeout(this.timer);
    this.nextRunAt = at;
    if (at === null || this.stopping.signal.aborted) return;
    const waitMs = Math.min(Math.max(at - this.clock.now(), MIN_SLEEP_MS), MAX_SLEEP_MS);
    this.timer = setTimeout(() => (this.clock.now() < at ? this.sleepUntil(at) : this.wake()), waitMs);
    this.timer.unref();
  }
}
