import { Injectable, Logger } from '@nestjs/common';
import type { Draft, MessageSummary, OutboxCopy, Recipient, Recurrence } from '@kiraku/core/contract';
import { LEAVE_RETRY_MS, MAX_OVERDUE_MS, retryOf, sendTimeProblem } from '@kiraku/core/delivery';
import { addressKey, addressProblem, MESSAGE_LIMITS } from '@kiraku/core/message';
import { DAY, nextOccurrence, recurrenceProblem } from '@kiraku/core/time';
import { planInstrumenting } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { FilesService } from '../files/files.service.js';
import { FollowupsService } from '../followups/followups.service.js';
import { invalid, notFound, ProblemException } from '../http/problem.js';
import { DeliveryRepository } from '../delivery/delivery.repository.js';
import { OutboxRepository } from '../delivery/outbox.repository.js';
import { OutboxService } from '../delivery/outbox.service.js';
import { PeopleRepository } from '../people/people.repository.js';
import { AccountService } from '../settings/account.service.js';
import { SendingSettings } from '../settings/sending.settings.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { CopiesService } from './copies.service.js';
import { DraftsService } from './drafts.service.js';
import { isEmptyBody } from './messageBody.js';
import { OutgoingService } from './outgoing.service.js';
import { MessagesRepository, type CopyRow } from './messages.repository.js';
import { SummariesRepository } from './summaries.repository.js';

/** A copy that failed is shown in the outbox for as long. */
const SHOWN_FAILED_MS = 30 * DAY;

const gone = () =>
  new ProblemException(
    409,
    'Already sent',
    'This message is being sent already, or was moved back to drafts in another window.',
  );

/**
 * Lets drafts leave: at once after the time in which they can be recalled, or at a time that was chosen. A message
 * that leaves becomes copies, one for each recipient, each with tokens of its own.
 */
@Injectable()
export class SendingService {
  private readonly logger = new Logger(SendingService.name);
  private readonly due: DueWork;

  constructor(
    private readonly drafts: DraftsService,
    private readonly messages: MessagesRepository,
    private readonly summaries: SummariesRepository,
    private readonly outbox: OutboxRepository,
    private readonly delivery: DeliveryRepository,
    private readonly outboxService: OutboxService,
    private readonly people: PeopleRepository,
    private readonly outgoing: OutgoingService,
    private readonly copies: CopiesService,
    private readonly accounts: AccountService,
    private readonly files: FilesService,
    private readonly followups: FollowupsService,
    private readonly settings: SendingSettings,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'scheduled messages', run: (stopping) => this.leaveDue(stopping) });
  }

  /**
   * Sends the draft as it stands at that revision. Resolves when the request is committed.
   *
   * @param at when it is to leave; as soon as it can no longer be taken back where nothing is said
   * @param recurrence how it repeats from then on
   */
  async send(id: number, revision: number, at?: number, recurrence: Recurrence | null = null): Promise<MessageSummary> {
    if (this.messages.row(id)?.queuedAt != null) throw gone();
    const draft = this.drafts.read(id);
    checkSendable(draft, this.files.checkCarried(draft.files));
    this.followups.checkFree(draft);
    const now = this.clock.now();
    const sendAt = at === undefined ? now + this.settings.undoSendMs() : checkedTime(at, now);
    if (recurrence) checkRecurrence(recurrence, sendAt);
    const sender = this.accounts.sender();
    this.change(id, () => {
      if (!this.messages.schedule(id, revision, sender, { sendAt, recurrence }, now))
        throw new ProblemException(
          409,
          'Changed elsewhere',
          'This message was changed or sent in another window. Load it again.',
        );
      this.changes.note('drafts');
    });
    if (sendAt <= now) await this.leave(id, sendAt);
    this.wake();
    return this.summaries.of([id])[0]!;
  }

  /** Returns a message that has not left to the drafts, exactly as it was. */
  recall(id: number): Draft {
    this.change(id, () => {
      if (!this.messages.recall(id, this.clock.now())) throw gone();
      this.changes.note('drafts');
    });
    return this.drafts.read(id);
  }

  /** Gives a message that has not left another time; now where none is said. */
  async reschedule(id: number, at?: number): Promise<MessageSummary> {
    const now = this.clock.now();
    const sendAt = at === undefined ? now : checkedTime(at, now);
    this.change(id, () => {
      if (!this.messages.reschedule(id, sendAt)) throw gone();
    });
    if (sendAt <= now) await this.leave(id, sendAt);
    this.wake();
    return this.summaries.of([id])[0]!;
  }

  /** Copies that have not left, and those that failed lately, the newest failure first. */
  outboxCopies(): OutboxCopy[] {
    return this.outbox.waiting(this.clock.now() - SHOWN_FAILED_MS);
  }

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
    this.outboxService.wake();
  }

  /** Lets leave what is due. Call it whenever a time was set. */
  wake(): void {
    this.due.wake();
  }

  private async leaveDue(stopping: AbortSignal): Promise<number | null> {
    while (!stopping.aborted) {
      const now = this.clock.now();
      const next = this.messages.nextScheduled(now - MAX_OVERDUE_MS);
      if (!next || next.sendAt > now) return next?.sendAt ?? null;
      try {
        await this.leave(next.id, next.sendAt);
      } catch (error) {
        this.logger.error(`Message ${next.id} could not leave`, error instanceof Error ? error.stack : String(error));
        this.messages.reschedule(next.id, this.clock.now() + LEAVE_RETRY_MS);
      }
    }
    return null;
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
      const now = this.clock.now();
      if (!this.delivery.apply(copy.id, { kind: 'resent', at: now })) throw gone();
      this.messages.readdress(copy.id, address, this.people.ensure(recipient, now));
      this.messages.setRecipients(copy.messageId, recipients);
      this.copies.queue(copy.id, address, mail, outgoing.envelope);
    });
  }

  private change(messageId: number, work: () => void): void {
    this.unit.commit(() => {
      work();
      this.changes.note({ messageId });
    });
  }

  /** Turns a scheduled message into copies in the outbox, unless it was recalled meanwhile. */
  private async leave(id: number, sendAt: number): Promise<void> {
    const draft = this.messages.scheduled(id);
    if (!draft) return;
    const outgoing = this.outgoing.written(draft, this.clock.now());
    const copies = await this.copies.prepare(outgoing, draft.recipients);
    this.change(id, () => {
      if (!this.messages.leave(id, sendAt)) return;
      this.copies.commit(id, outgoing, copies);
      this.followups.begin(id, draft);
      this.repeat(id, sendAt);
    });
    this.outboxService.wake();
  }

  /** A message that recurs has its next one written down with the transaction in which it leaves. */
  private repeat(id: number, sendAt: number): void {
    const recurrence = this.messages.row(id)!.recurrence;
    const next = recurrence && nextOccurrence(recurrence, sendAt);
    if (!next) return;
    const repeated = this.messages.repeat(id, next.at, next.recurrence, this.clock.now());
    this.changes.note({ messageId: repeated });
  }
}

/** What one press of Send may put into the outbox, over all copies; a copy is a little longer than its message. */
const MAX_COMPOSED_BYTES = 200_000_000;
const COPY_OVERHEAD = 1.5;

function checkSendable(draft: Draft, attachedBytes: number): void {
  if (draft.recipients.length === 0)
    throw invalid('Add a recipient.', [{ field: 'recipients', message: 'Add a recipient.' }]);
  if (draft.subject.trim() === '' && draft.files.length === 0 && isEmptyBody(draft.html))
    throw invalid('Write a subject or a message first.', [{ field: 'html', message: 'There is nothing in it yet.' }]);
  const bytes = Buffer.byteLength(draft.html) + attachedBytes;
  if (bytes * COPY_OVERHEAD * draft.recipients.length > MAX_COMPOSED_BYTES)
    throw invalid(
      'The message is too large for so many recipients. Send its files as links, or to fewer people at a time.',
    );
  const links = planInstrumenting(draft.html).links.length;
  if (links > MESSAGE_LIMITS.maxLinks)
    throw invalid(`The message has ${links} links; at most ${MESSAGE_LIMITS.maxLinks} are possible. Remove some.`);
}

function checkRecurrence(recurrence: Recurrence, sendAt: number): void {
  const problem =
    recurrenceProblem(recurrence) ??
    (nextOccurrence(recurrence, sendAt)
      ? null
      : 'By this rule it would be sent only once. Choose another, or send it once.');
  if (problem) throw invalid(problem, [{ field: 'recurrence', message: problem }]);
}

function checkedTime(at: number, now: number): number {
  const problem = sendTimeProblem(at, now);
  if (problem) throw invalid(problem, [{ field: 'at', message: problem }]);
  return at;
}
