import { Injectable } from '@nestjs/common';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { OptOutsRepository } from './optOuts.repository.js';
import { Recorder } from './recorder.js';

export type OptOutState = 'unknown' | 'open' | 'declined';

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

  /** How the recipient of a copy, named by its image's token, has decided. */
  state(token: string): OptOutState {
    const found = this.recipients.recipientOf(token);
    if (!found) return 'unknown';
    return found.optedOutAt === null ? 'open' : 'declined';
  }

  /** Declines for the recipient of a copy, once and for good. */
  decline(token: string): OptOutState {
    const found = this.recipients.recipientOf(token);
    if (!found) return 'unknown';
    if (found.optedOutAt !== null) return 'declined';
    const at = this.clock.now();
    this.unit.commit(() => {
      // Whoever changes their mind to and fro is written down once an hour.
      if (!this.recipients.hasOptedOutSince(found.copyId, at - HOUR))
        this.recorder.recordPlain({ kind: 'opted_out', at, copyId: found.copyId });
      this.recipients.optOut(found.personId, at);
      this.followups.endedFor(found.personId, 'They opted out of tracking');
    });
    return 'declined';
  }

  /** Takes that back, for a recipient who has changed their mind. */
  allow(token: string): OptOutState {
    const found = this.recipients.recipientOf(token);
    if (!found) return 'unknown';
    if (found.optedOutAt !== null) this.recipients.optOut(found.personId, null);
    return 'open';
  }
}
