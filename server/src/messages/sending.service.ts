import { Injectable } from '@nestjs/common';
import type { Draft, Recurrence } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { notFound, ProblemException } from '../http/problem.js';
import { AccountService } from '../settings/account.service.js';
import { SendingSettings } from '../settings/sending.settings.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { MessagesRepository } from './messages.repository.js';
import { ScheduledMessages } from './scheduledMessages.js';
import { checkedTime, checkRecurrence, SendChecks } from './sendChecks.js';

export const gone = () =>
  new ProblemException(
    409,
    'Already sent',
    'This message is being sent already, or was moved back to drafts in another window.',
  );

const ofRound = () =>
  new ProblemException(409, 'Part of a round', 'This message leaves with its round. Start or resume the round.');

/** Lets drafts leave: at once after the time in which they can be recalled, or at a time that was chosen. */
@Injectable()
export class SendingService {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly checks: SendChecks,
    private readonly accounts: AccountService,
    private readonly settings: SendingSettings,
    private readonly scheduled: ScheduledMessages,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /**
   * Sends the draft as it stands at that revision. Resolves when the request is committed.
   *
   * @param at when it is to leave; as soon as it can no longer be taken back where nothing is said
   * @param recurrence how it repeats from then on
   */
  async send(id: number, revision: number, at?: number, recurrence: Recurrence | null = null): Promise<void> {
    const row = this.messages.row(id);
    if (row?.queuedAt != null) throw gone();
    if (row && row.roundId !== null) throw ofRound();
    const draft = this.messages.draft(id);
    if (!draft) throw notFound('draft');
    this.checks.check(draft);
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
      this.unit.note('drafts');
    });
    await this.scheduled.leaveDue();
  }

  /** Returns a message that has not left to the drafts, exactly as it was. */
  recall(id: number): Draft {
    this.change(id, () => {
      if (!this.messages.recall(id, this.clock.now())) throw gone();
      this.unit.note('drafts');
    });
    return this.messages.draft(id)!;
  }

  /** Gives a message that has not left another time; now where none is said. */
  async reschedule(id: number, at?: number): Promise<void> {
    const now = this.clock.now();
    const sendAt = at === undefined ? now : checkedTime(at, now);
    this.change(id, () => {
      if (!this.messages.reschedule(id, sendAt)) throw gone();
    });
    await this.scheduled.leaveDue();
  }

  private change(messageId: number, work: () => void): void {
    this.unit.commit(() => {
      work();
      this.unit.note({ messageId });
    });
  }
}
