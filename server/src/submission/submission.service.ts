import { Injectable } from '@nestjs/common';
import type { SubmittedEnvelope } from '@kiraku/core/delivery';
import { OutboxService } from '../delivery/outbox.service.js';
import { Clock } from '../environment/clock.js';
import { CopiesService } from '../messages/copies.service.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { SubmittedMails } from './submittedMails.js';

/** Takes mail from the sender’s other mail programs, and treats it as if it had been written here. */
@Injectable()
export class SubmissionService {
  constructor(
    private readonly mails: SubmittedMails,
    private readonly messages: MessagesRepository,
    private readonly copies: CopiesService,
    private readonly outbox: OutboxService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /**
   * Takes a mail. Resolves when every copy lies durably in the outbox.
   *
   * @throws Refusal where it cannot be taken; nothing of it is kept then
   */
  async take(received: Buffer, envelope: SubmittedEnvelope): Promise<void> {
    const { outgoing, ...row } = await this.mails.read(received, envelope);
    const copies = await this.copies.prepare(outgoing, row.recipients);
    const now = this.clock.now();
    this.unit.commit(() => {
      const times = { createdAt: now, updatedAt: now, queuedAt: now, lastActivityAt: now };
      const id = this.messages.addSubmitted({ ...row, ...times }, outgoing.shared!);
      this.copies.commit(id, outgoing, copies);
      this.unit.note({ messageId: id });
    });
    this.outbox.wake();
  }
}
