import { Injectable } from '@nestjs/common';
import { DeliveryService } from '../delivery/delivery.service.js';
import { OutboxRepository } from '../delivery/outbox.repository.js';
import { FollowupsService } from '../followups/followups.service.js';
import { RoundSending } from '../rounds/roundSending.js';
import { SendingSettings } from '../settings/sending.settings.js';
import { UnitOfWork } from '../store/unitOfWork.js';

const COPY_HELD =
  'A backup was restored, and it may have left after that was made. Send it again if it did not arrive.';
const ROUND_PAUSED = 'A backup was restored, and more of its messages may have left after that was made';
const PLAN_STOPPED = 'A backup was restored, and the next message may have left after that was made';

/** What was on its way when a backup was made may have left after it: nobody is to get it twice. */
@Injectable()
export class HoldingBack {
  constructor(
    private readonly outbox: OutboxRepository,
    private readonly delivery: DeliveryService,
    private readonly rounds: RoundSending,
    private readonly followups: FollowupsService,
    private readonly sending: SendingSettings,
    private readonly unit: UnitOfWork,
  ) {}

  /**
   * Holds back what was to leave by a time, until the user decides: copies that waited, scheduled messages, rounds, and
   * follow-ups.
   */
  holdBack(at: number): void {
    this.unit.commit(() => {
      this.sending.noteRestored(at);
      this.rounds.pauseAll(ROUND_PAUSED);
      this.followups.endedDueBy(at, PLAN_STOPPED);
      for (const copy of this.outbox.all()) this.delivery.apply(copy, { kind: 'held', words: COPY_HELD }, at);
    });
  }
}
