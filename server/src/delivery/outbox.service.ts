import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import { Clock } from '../clock.js';
import { FollowupsService } from '../followups/followups.service.js';
import { AccountService, type SmtpAccess } from '../settings/account.service.js';
import { DkimService } from '../settings/dkim.service.js';
import { SendingSettings } from '../settings/sending.settings.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Recorder } from '../tracking/recorder.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { DeliveryRepository } from './delivery.repository.js';
import { OutboxRepository } from './outbox.repository.js';
import { SmtpClient, type SingleMail, type SmtpOutcome } from './smtp.js';

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
  private client: { access: string; smtp: SmtpClient } | undefined;
  private original: { messageId: number; raw: WeakRef<Buffer> } | undefined;
  private readonly due: DueWork;

  constructor(
    private readonly outbox: OutboxRepository,
    private readonly delivery: DeliveryRepository,
    private readonly accounts: AccountService,
    private readonly dkim: DkimService,
    private readonly settings: SendingSettings,
    private readonly recorder: Recorder,
    private readonly followups: FollowupsService,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
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
    const patience = setTimeout(() => this.client?.smtp.abandon(), SMTP_QUIT_MS);
    await this.drained();
    clearTimeout(patience);
    this.client?.smtp.close();
  }

  /** Hands over a mail that lies in no outbox: its writer tries again. */
  deliver({ raw, ...envelope }: SingleMail): Promise<SmtpOutcome> {
    const mail = { own: raw, pieces: null };
    return this.smtp().send({ ...envelope, mail, shared: null, dsn: null, receipt: null });
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
    const outcome = await this.smtp().send({
      from: row.envelopeFrom,
      to: row.envelopeTo,
      mail: { own: row.raw, pieces: row.pieces },
      shared,
      dsn: row.dsn,
      receipt: requestDsn ? messageIdHeader : null,
    });
    this.unit.commit(() => this.note(copyId, messageId, outcome));
  }

  /** The original of a message, once in memory for all of its copies that leave together. */
  private sharedOf(messageId: number): Buffer | null {
    const known = this.original?.messageId === messageId ? this.original.raw.deref() : undefined;
    if (known) return known;
    const raw = this.outbox.shared(messageId);
    this.original = raw ? { messageId, raw: new WeakRef(raw) } : undefined;
    return raw;
  }

  /** Writes down what became of an attempt, and what follows from it. */
  private note(copyId: number, messageId: number, outcome: SmtpOutcome): void {
    const now = this.clock.now();
    const event = { ...outcome, at: now, giveUpMs: this.settings.giveUpMs() };
    const after = this.delivery.apply(copyId, event);
    // It was withdrawn while it was being handed over.
    if (!after) return;
    // Hits that arrived before the send was recorded could not be judged by their age.
    if (after.state === 'sent') this.recorder.rejudge(messageId);
    if (after.state === 'failed') {
      this.recorder.recordPlain({ kind: 'bounced', at: now, copyId });
      this.followups.ended([messageId], 'A message of it could not be delivered');
    }
    this.changes.note({ messageId });
  }

  /** The client for the way out as it is set now. */
  private smtp(): SmtpClient {
    const access: SmtpAccess = this.accounts.smtpAccess();
    const dkim = this.dkim.key();
    const key = JSON.stringify([access, dkim]);
    if (this.client?.access !== key) {
      this.client?.smtp.close();
      this.client = { access: key, smtp: new SmtpClient(access, dkim) };
    }
    return this.client.smtp;
  }
}
