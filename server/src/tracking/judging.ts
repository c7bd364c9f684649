import { Injectable } from '@nestjs/common';
import type { JudgingProgress } from '@kiraku/core/contract';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { EventsRepository } from './events.repository.js';
import { Recorder } from './recorder.js';

const PROGRESS = 'judging.progress';
/** So many messages go into one transaction: hits that come meanwhile wait for no more. */
const MESSAGES_PER_REJUDGE = 20;

interface Progress extends JudgingProgress {
  /** The last message that is done; the next has a greater id. */
  after: number;
}

/** Judges everything again, message by message, while the public site stays open; goes on after a restart. */
@Injectable()
export class Judging {
  private readonly due: DueWork;

  constructor(
    private readonly events: EventsRepository,
    private readonly recorder: Recorder,
    private readonly settings: SettingsRepository,
    private readonly changes: Changes,
    works: Works,
  ) {
    this.due = works.add({ name: 'applying rules to past activity', run: (stopping) => this.rejudgeAll(stopping) });
  }

  /** How far it has come; null where nothing is under way. */
  progress(): JudgingProgress | null {
    const found = this.settings.get<Progress>(PROGRESS);
    return found ? { done: found.done, total: found.total, changed: found.changed } : null;
  }

  /** Begins anew, from the first message on. */
  begin(): JudgingProgress {
    const total = this.events.countMessages();
    this.settings.set(PROGRESS, { after: 0, done: 0, total, changed: 0 } satisfies Progress);
    this.due.wake();
    return { done: 0, total, changed: 0 };
  }

  /** Resolves when nothing is under way. */
  done(): Promise<void> {
    return this.due.idle();
  }

  private async rejudgeAll(stopping: AbortSignal): Promise<null> {
    while (!stopping.aborted) {
      const before = this.settings.get<Progress>(PROGRESS);
      if (!before) return null;
      const ids = this.events.messagesAfter(before.after, MESSAGES_PER_REJUDGE);
      if (ids.length === 0) break;
      const changed = await this.recorder.rejudgeMessages(ids);
      // Begun anew meanwhile: then that one counts.
      if (this.settings.get<Progress>(PROGRESS)!.after !== before.after) continue;
      this.settings.set(PROGRESS, {
        after: ids.at(-1)!,
        done: before.done + ids.length,
        total: before.total,
        changed: before.changed + changed,
      } satisfies Progress);
      if (changed > 0) this.changes.announce();
    }
    if (!stopping.aborted) this.settings.remove(PROGRESS);
    return null;
  }
}
