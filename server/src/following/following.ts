import { Injectable } from '@nestjs/common';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupsRepository } from '../followups/followups.repository.js';
import { ScheduledMessages } from '../messages/scheduledMessages.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { DueReminders } from './dueReminders.js';
import { PlanSteps } from './planSteps.js';

const FOLLOWUPS_PAUSE_MS = 200;
/** What is held is looked at again after this. */
const HELD_RECHECK_MS = MINUTE;

/**
 * Acts on what is due: notifies of reminders, and sends the next messages of plans. What is decided, and what it becomes,
 * is one transaction; a message that a step became is scheduled by it and leaves like any other, unless its plan ended.
 */
@Injectable()
export class Following {
  private readonly due: DueWork;

  constructor(
    private readonly followups: FollowupsRepository,
    private readonly steps: PlanSteps,
    private readonly reminders: DueReminders,
    private readonly scheduled: ScheduledMessages,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'follow-ups', commitPauseMs: FOLLOWUPS_PAUSE_MS, run: () => this.check() });
  }

  /** Acts on what is due. Call it whenever a time was set; it acts by itself when something happened. */
  wake(): void {
    this.due.wake();
    this.reminders.wake();
  }

  /** Returns when something is due next. */
  private check(): number | null {
    const now = this.clock.now();
    // Looked for often: whoever writes hits is not held up where there is nothing to do.
    if (!this.isAnythingDue(now)) return this.followups.nextAt(now);
    this.act(now);
    const next = this.followups.nextAt(now);
    // A step may be held, as by a mailbox that was not checked yet: what holds it may end without a commit.
    return this.isAnythingDue(now) ? Math.min(now + HELD_RECHECK_MS, next ?? Infinity) : next;
  }

  private act(now: number): void {
    this.reminders.remind(now);
    if (this.steps.proceedDue(now) > 0) void this.scheduled.leaveDue();
  }

  private isAnythingDue(now: number): boolean {
    return (
      this.followups.dueReminders(now).length > 0 ||
      this.followups.resolvable().length > 0 ||
      this.followups.duePlans(now).length > 0
    );
  }
}
