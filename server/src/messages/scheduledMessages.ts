import { Injectable, Logger } from '@nestjs/common';
import { LEAVE_RETRY_MS, MAX_OVERDUE_MS } from '@kiraku/core/delivery';
import { Clock } from '../environment/clock.js';
import { SendingSettings } from '../settings/sending.settings.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { Leaving } from './leaving.js';
import { MessagesRepository } from './messages.repository.js';

/** Lets scheduled messages leave when it is time. */
@Injectable()
export class ScheduledMessages {
  private readonly logger = new Logger(ScheduledMessages.name);
  private readonly due: DueWork;

  constructor(
    private readonly messages: MessagesRepository,
    private readonly leaving: Leaving,
    private readonly settings: SendingSettings,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'scheduled messages', run: (stopping) => this.run(stopping) });
  }

  /** Lets leave what is due. Call it whenever a time was set; resolves when it has left, or is put off. */
  leaveDue(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  private async run(stopping: AbortSignal): Promise<number | null> {
    while (!stopping.aborted) {
      const now = this.clock.now();
      const next = this.messages.nextScheduled(Math.max(now - MAX_OVERDUE_MS, this.settings.restoredAt()));
      if (!next || next.sendAt > now) return next?.sendAt ?? null;
      try {
        await this.leaving.leave(next.id, next.sendAt);
      } catch (error) {
        this.logger.error(`Message ${next.id} could not leave`, error instanceof Error ? error.stack : String(error));
        this.messages.reschedule(next.id, this.clock.now() + LEAVE_RETRY_MS);
      }
    }
    return null;
  }
}
