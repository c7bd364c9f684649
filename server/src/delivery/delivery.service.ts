import { Injectable } from '@nestjs/common';
import { recordedAs, type DeliveryEvent } from '@kiraku/core/delivery';
import { FollowupsService } from '../followups/followups.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Recorder } from '../tracking/recorder.js';
import { DeliveryRepository, type CopyOfMessage } from './delivery.repository.js';

/** What follows from what mail servers say of a copy. */
@Injectable()
export class DeliveryService {
  constructor(
    private readonly delivery: DeliveryRepository,
    private readonly recorder: Recorder,
    private readonly followups: FollowupsService,
    private readonly unit: UnitOfWork,
  ) {}

  /**
   * Lets something happen to a copy, records it, and ends what waits for a reply where it failed: in one transaction, or as
   * a part of another.
   *
   * @param at when, in epoch milliseconds
   * @param incomingId the report that says so
   */
  apply({ copyId, messageId }: CopyOfMessage, event: DeliveryEvent, at: number, incomingId?: number): void {
    this.unit.commit(() => {
      const after = this.delivery.apply(copyId, event);
      if (!after) return;
      // Hits that arrived before the send was recorded could not be judged by their age.
      if (event.kind === 'accepted') this.recorder.rejudge(messageId);
      const kind = recordedAs(event, after);
      if (kind) this.recorder.recordPlain({ kind, at, copyId, ...(incomingId !== undefined && { incomingId }) });
      if (kind === 'bounced' && after.state === 'failed')
        this.followups.ended([messageId], 'A message of it could not be delivered');
      this.unit.note({ messageId });
    });
  }
}
