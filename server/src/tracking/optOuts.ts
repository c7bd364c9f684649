import { Injectable } from '@nestjs/common';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { OptOutsRepository, type Recorded } from './optOuts.repository.js';
import { Recorder } from './recorder.js';

/** What the page says on which a recipient opts out. */
export interface OptOutView {
  hasOptedOut: boolean;
  /** Who wrote to them. */
  sender: string;
  /** How often what was recorded of them, in all that was sent to them. */
  recorded: Recorded;
}

/** Recipients who would rather not be tracked: they are written to without, and nothing they do is recorded. */
@Injectable()
export class OptOuts {
  constructor(
    private readonly recipients: OptOutsRepository,
    private readonly recorder: Recorder,
    private readonly followups: FollowupsService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** How the recipient of a copy, named by its image's token, has decided; undefined where it names none. */
  view(token: string): OptOutView | undefined {
    const found = this.recipients.recipientOf(token);
    if (!found) return undefined;
    const { personId, optedOutAt, senderName, senderAddress } = found;
    return {
      hasOptedOut: optedOutAt !== null,
      sender: senderName || senderAddress,
      recorded: this.recipients.recordedOf(personId),
    };
  }

  /** Declines for the recipient of a copy, once and for good. */
  decline(token: string): OptOutView | undefined {
    const found = this.recipients.recipientOf(token);
    if (found?.optedOutAt === null) {
      const at = this.clock.now();
      this.unit.commit(() => {
        // Whoever changes their mind to and fro is written down once an hour.
        if (!this.recipients.hasOptedOutSince(found.copyId, at - HOUR))
          this.recorder.recordPlain({ kind: 'opted_out', at, copyId: found.copyId });
        this.recipients.optOut(found.personId, at);
        this.followups.endedFor(found.personId, 'They opted out of tracking');
      });
    }
    return this.view(token);
  }

  /** Takes that back, for a recipient who has changed their mind. */
  allow(token: string): OptOutView | undefined {
    const found = this.recipients.recipientOf(token);
    if (found && found.optedOutAt !== null) this.recipients.optOut(found.personId, null);
    return this.view(token);
  }
}
