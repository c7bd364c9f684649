import { Injectable } from '@nestjs/common';
import type { Recipient } from '@kiraku/core/contract';
import { retryOf } from '@kiraku/core/delivery';
import { addressKey, addressProblem } from '@kiraku/core/message';
import { DeliveryRepository } from '../delivery/delivery.repository.js';
import { OutboxService } from '../delivery/outbox.service.js';
import { Clock } from '../environment/clock.js';
import { invalid, notFound } from '../http/problem.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { CopiesService } from './copies.service.js';
import { MessagesRepository, type CopyRow } from './messages.repository.js';
import { OutgoingService } from './outgoing.service.js';
import { gone } from './sending.service.js';

/** Tries again, because the user wants it, what did not leave. */
@Injectable()
export class RetryingService {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly delivery: DeliveryRepository,
    private readonly outgoing: OutgoingService,
    private readonly copies: CopiesService,
    private readonly outbox: OutboxService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /**
   * Tries a copy now that waits or has failed. A failed one can go to another address: it is made anew under the tokens
   * that it has, and takes the other's place in the message.
   */
  async retry(copyId: number, address?: string): Promise<void> {
    const copy = this.messages.copy(copyId);
    if (!copy) throw notFound('copy');
    const retry = retryOf(copy.state);
    if (!retry) throw gone();
    if (retry === 'resent') await this.sendAgain(copy, address ?? copy.address);
    else {
      if (address !== undefined)
        throw invalid('It is still being retried. Wait until it has failed, then correct its address.');
      this.change(copy.messageId, () => this.delivery.apply(copyId, { kind: 'retried', at: this.clock.now() }));
    }
    this.outbox.wake();
  }

  private async sendAgain(copy: CopyRow, address: string): Promise<void> {
    const problem = addressProblem(address);
    if (problem) throw invalid(problem, [{ field: 'address', message: problem }]);
    const before = this.messages.row(copy.messageId)!;
    const same = (one: Recipient) => addressKey(one.address) === addressKey(copy.address);
    const recipients = before.recipients.map((one) => (same(one) ? { ...one, address } : one));
    const outgoing = await this.outgoing.sent({ ...before, recipients });
    if (!outgoing)
      throw invalid('The original of this message is not stored any more. Send it again from your mail app.');
    const recipient = { kind: copy.kind, name: copy.name, address };
    const mail = await this.copies.remake(copy.id, outgoing, recipient);
    this.change(copy.messageId, () => {
      if (!this.delivery.apply(copy.id, { kind: 'resent', at: this.clock.now() })) throw gone();
      this.copies.readdress(copy.id, recipient);
      this.messages.setRecipients(copy.messageId, recipients);
      this.copies.queue(copy.id, address, mail, outgoing.envelope);
    });
  }

  private change(messageId: number, work: () => void): void {
    this.unit.commit(() => {
      work();
      this.unit.note({ messageId });
    });
  }
}
