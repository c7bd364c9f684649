import { setImmediate as nextTurn } from 'node:timers/promises';
import { Injectable } from '@nestjs/common';
import { DAY, HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { NetworksRepository } from '../tracking/networks.repository.js';
import { Recorder } from '../tracking/recorder.js';
import { PrivacySettings } from '../settings/privacy.settings.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { RetentionRepository } from './retention.repository.js';

const RETENTION_CHECK_MS = HOUR;
/** In one transaction: what comes meanwhile waits for no more. */
const EVENTS_PER_DELETE = 500;

/** Forgets what has been kept for as long as was set: at the start, and each hour. */
@Injectable()
export class Retention {
  private readonly due: DueWork;

  constructor(
    private readonly kept: RetentionRepository,
    private readonly networks: NetworksRepository,
    private readonly settings: PrivacySettings,
    private readonly recorder: Recorder,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'retention', run: (stopping) => this.run(stopping) });
  }

  /** Forgets what is due. Resolves when nothing is left that is. */
  forget(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  private async run(stopping: AbortSignal): Promise<number> {
    const { forgetReadersDays, forgetEventsDays } = this.settings.view();
    const now = this.clock.now();
    if (forgetEventsDays !== null) await repeat(() => this.forgetEvents(now - forgetEventsDays * DAY), stopping);
    if (forgetReadersDays !== null) {
      const before = now - forgetReadersDays * DAY;
      const forgetSome = () => this.unit.commit(() => this.kept.forgetReaders(before, EVENTS_PER_DELETE));
      if (await repeat(forgetSome, stopping)) this.kept.forgetPrograms();
    }
    const days = [forgetReadersDays, forgetEventsDays].filter((number) => number !== null);
    const before = days.length === 0 ? null : now - Math.min(...days) * DAY;
    this.unit.commit(() => {
      this.networks.forgetOld(before, now);
      if (before !== null) this.kept.forgetOptOutVisits(before);
    });
    return this.clock.now() + RETENTION_CHECK_MS;
  }

  private forgetEvents(before: number): number {
    return this.unit.commit(() => {
      const found = this.kept.forgetEvents(before, EVENTS_PER_DELETE, this.clock.now());
      for (const messageId of found) {
        this.recorder.recount(messageId);
        this.unit.note({ messageId });
      }
      return found.length;
    });
  }
}

/** Again and again until nothing was left to do; whether there was anything. */
async function repeat(step: () => number, stopping: AbortSignal): Promise<boolean> {
  let some = false;
  while (!stopping.aborted && step() > 0) {
    some = true;
    await nextTurn();
  }
  return some;
}
