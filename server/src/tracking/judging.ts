import { Inject, Injectable } from '@nestjs/common';
import type { JudgingProgress } from '@kiraku/core/contract';
import { Changes } from '../store/changes.js';
import { DATABASE, type Database } from '../store/database.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { PastActivity } from './pastActivity.js';
import { Recorder } from './recorder.js';

/** Judges everything again, message by message, while the public site stays open; goes on after a restart. */
@Injectable()
export class Judging {
  private readonly past: PastActivity;
  private readonly due: DueWork;

  constructor(
    @Inject(DATABASE) database: Database,
    private readonly recorder: Recorder,
    private readonly changes: Changes,
    works: Works,
  ) {
    this.past = new PastActivity(database);
    this.due = works.add({ name: 'applying rules to past activity', run: (stopping) => this.rejudgeAll(stopping) });
  }

  /** How far it has come; null where nothing is under way. */
  progress(): JudgingProgress | null {
    return this.past.progress();
  }

  /** Begins anew, from the first message on. */
  begin(): JudgingProgress {
    const begun = this.past.begin();
    this.due.wake();
    return begun;
  }

  /** Resolves when nothing is under way. */
  done(): Promise<void> {
    return this.due.idle();
  }

  private async rejudgeAll(stopping: AbortSignal): Promise<null> {
    while (!stopping.aborted && this.progress()) {
      const changed = await this.recorder.rejudgePast();
      if (changed > 0) this.changes.announce();
    }
    return null;
  }
}
