import { Injectable } from '@nestjs/common';
import { nextOccurrence } from '@kiraku/core/time';
import { OutboxService } from '../delivery/outbox.service.js';
import { Clock } from '../environment/clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { CopiesService } from './copies.service.js';
import { MessagesRepository } from './messages.repository.js';
import { OutgoingService } from './outgoing.service.js';

/** A message that leaves becomes copies, one for each recipient, each with tokens of its own. */
@Injectable()
export class Leaving {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly outgoing: OutgoingService,
    private readonly copies: CopiesService,
    private readonly followups: FollowupsService,
    private readonly outbox: OutboxService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** Turns a scheduled message into copies in the outbox, unless it was recalled meanwhile. */
  async leave(id: number, sendAt: number): Promise<void> {
    const draft = this.messages.scheduled(id);
    if (!draft) return;
    const outgoing = this.outgoing.written(draft, this.clock.now(), this.messages.isOfRound(id));
    const copies = await this.copies.prepare(outgoing, draft.recipients);
    this.unit.commit(() => {
      if (!this.messages.leave(id, sendAt)) return;
      this.copies.commit(id, outgoing, copies);
      this.followups.begin(id, draft);
      this.repeat(id, sendAt);
      this.unit.note({ messageId: id });
    });
    this.outbox.wake();
  }

  /** A message that recurs has its next one written down with the transaction in which it leaves. */
  private repeat(id: number, sendAt: number): void {
    const recurrence = this.messages.row(id)!.recurrence;
    const next = recurrence && nextOccurrence(recurrence, sendAt);
    if (!next) return;
    const repeated = this.messages.repeat(id, next.at, next.recurrence, this.clock.now());
    this.unit.note({ messageId: repeated });
  }
}
