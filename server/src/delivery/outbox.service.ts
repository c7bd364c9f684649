import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import { Clock } from '../environment/clock.js';
import { SendingSettings } from '../settings/sending.settings.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { DeliveryService } from './delivery.service.js';
import { OutboxRepository } from './outbox.repository.js';
import { OutgoingServer } from './outgoingServer.js';

const MAX_PARALLEL_SENDS = 4;
/** How long a stop waits for a mail server; what it does not finish then goes again after the next start. */
const SMTP_QUIT_MS = 5000;

/**
 * Sends what lies in the outbox. A row is committed before the first word is said to the mail server and goes only
 * with the outcome, so that a mail is never lost; one whose “250” was not noted before a crash goes again, the same
 * byte for byte, under the same Message-ID.
 */
@Injectable()
export class OutboxService implements BeforeApplicationShutdown {
  private readonly sending = new Map<number, Promise<void>>();
  private original: { messageId: number; raw: WeakRef<Buffer> } | undefined;
  private readonly due: DueWork;

  constructor(
    private readonly outbox: OutboxRepository,
    private readonly delivery: DeliveryService,
    private readonly server: OutgoingServer,
    private readonly settings: SendingSettings,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'outbox', run: (stopping) => this.sendDue(stopping) });
  }

  /** Sends what is due. Call it whenever something was put in. */
  wake(): void {
    this.due.wake();
  }

  /** Resolves when nothing that is due is left. */
  async drained(): Promise<void> {
    while (this.sending.size > 0) await Promise.all(this.sending.values());
  }

  /** What is being said to the mail server is said to its end, unless the server keeps silent. */
  async beforeApplicationShutdown(): Promise<void> {
    await this.due.stop();
    const patience = setTimeout(() => this.server.abandon(), SMTP_QUIT_MS);
    await this.drained();
    clearTimeout(patience);
    this.server.close();
  }

  private sendDue(stopping: AbortSignal): number | null {
    if (stopping.aborted) return null;
    const due = this.outbox
      .due(this.clock.now(), MAX_PARALLEL_SENDS + this.sending.size)
      .filter((copyId) => !this.sending.has(copyId));
    for (const copyId of due.slice(0, MAX_PARALLEL_SENDS - this.sending.size)) {
      const done = this.send(copyId).then(
        () => {
          this.sending.delete(copyId);
          this.due.wake();
        },
        (error: unknown) => {
          // A fault of our own (no account, a full disk): the copy stays in the outbox.
          this.sending.delete(copyId);
          this.due.fail(error);
        },
      );
      this.sending.set(copyId, done);
    }
    return this.sending.size > 0 ? null : this.outbox.nextDueAt();
  }

  private async send(copyId: number): Promise<void> {
    const row = this.outbox.find(copyId);
    if (!row) return;
    const { messageId, requestDsn, messageIdHeader } = this.outbox.receiptRequests(copyId);
    const shared = row.pieces === null ? null : this.sharedOf(messageId);
    const outcome = await this.server.send({
      from: row.envelopeFrom,
      to: row.envelopeTo,
      mail: { own: row.raw, pieces: row.pieces },
      shared,
      dsn: row.dsn,
      receipt: requestDsn ? messageIdHeader : null,
    });
    const at = this.clock.now();
    const event = { ...outcome, at, giveUpMs: this.settings.giveUpMs() };
    this.delivery.apply({ copyId, messageId }, event, at);
  }

  /** The original of a message, once in memory for all of its copies that leave together. */
  private sharedOf(messageId: number): Buffer | null {
    const known = this.original?.messageId === messageId ? this.original.raw.deref() : undefined;
    if (known) return known;
    const raw = this.outbox.shared(messageId);
    this.original = raw ? { messageId, raw: new WeakRef(raw) } : undefined;
    return raw;
  }
}
