import { Injectable, type BeforeApplicationShutdown, type OnApplicationBootstrap } from '@nestjs/common';
import { DAY, HOUR } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Recorder } from '../tracking/recorder.js';
import { PrivacySettings } from '../settings/privacy.settings.js';
import { RetentionRepository } from './retention.repository.js';

const RETENTION_CHECK_MS = HOUR;
/** In one transaction: what comes meanwhile waits for no more. */
const EVENTS_PER_DELETE = 500;

/** Forgets what has been kept for as long as was set: at the start, and each hour. */
@Injectable()
export class Retention implements OnApplicationBootstrap, BeforeApplicationShutdown {
  private timer: NodeJS.Timeout | undefined;
  private running: Promise<void> | undefined;
  private stopped = false;

  constructor(
    private readonly kept: RetentionRepository,
    private readonly settings: PrivacySettings,
    private readonly recorder: Recorder,
    private readonly changes: Changes,
    private readonly work: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  onApplicationBootstrap(): void {
    this.timer = setInterval(() => void this.forget(), RETENTION_CHECK_MS);
    this.timer.unref();
    void this.forget();
  }

  async beforeApplicationShutdown(): Promise<void> {
    this.stopped = true;
    clearInterval(this.timer);
    await this.running;
  }

  /** Forgets what is due. Resolves when nothing is left that is. */
  forget(): Promise<void> {
    this.running ??= this.run().finally(() => (this.running = undefined));
    return this.running;
  }

  private async run(): Promise<void> {
    const { forgetReadersDays, forgetEventsDays } = this.settings.view();
    const now = this.clock.now();
    if (forgetEventsDays !== null) await this.repeat(() => this.forgetEvents(now - forgetEventsDays * DAY));
    if (forgetReadersDays === null) return;
    const before = now - forgetReadersDays * DAY;
    const some = await this.repeat(() => this.work.commit(() => this.kept.forgetReaders(before, EVENTS_PER_DELETE)));
    if (some) this.kept.forgetPrograms();
  }

  private forgetEvents(before: number): number {
    return this.work.commit(() => {
      const found = this.kept.forgetEvents(before, EVENTS_PER_DELETE, this.clock.now());
      for (const messageId of found) {
        this.recorder.recount(messageId);
        this.changes.note({ messageId });
      }
      return found.length;
    });
  }

  /** Again and again until nothing was left to do; whether there was anything. */
  private async repeat(step: () => number): Promise<boolean> {
    let some = false;
    while (!this.stopped && step() > 0) {
      some = true;
      await new Promise((resolve) => setImmediate(resolve));
    }
    return some;
  }
}
