import { Injectable } from '@nestjs/common';
import type { DraftReminder, NewReminderRequest, ReminderView, SnoozeReminderRequest } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { FollowupsRepository, type ReminderRow } from '../followups/followups.repository.js';
import { invalid, notFound } from '../http/problem.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { FollowupViews } from './followupViews.js';
import { Following } from './following.js';
import { readTime } from './readTime.js';

/** It waits as if it had never asked: nor is it written about before it does. */
const WAITING = { state: 'waiting', reason: null, endedAt: null, emailPending: false } as const;

/** Sets and changes reminders. */
@Injectable()
export class RemindersService {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly views: FollowupViews,
    private readonly following: Following,
    private readonly messages: MessagesRepository,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** Sets the same reminder on several messages, or on a person, or on nothing. */
  add(request: NewReminderRequest): ReminderView[] {
    const { condition, note, byEmail, zone, messageIds, personId } = request;
    const now = this.clock.now();
    const row = { ...WAITING, dueAt: this.read(request), condition, note, byEmail, zone, createdAt: now };
    if (messageIds.length === 0 && condition !== 'always')
      throw invalid('Without a message there is nothing to wait for: choose “in any case”.');
    const ids = this.changed(() => {
      if (messageIds.length === 0) return [this.followups.addReminder({ ...row, personId })];
      return messageIds.map((messageId) => {
        if (!this.messages.row(messageId)?.queuedAt) throw notFound('sent message');
        this.unit.note({ messageId });
        return this.followups.addReminder({ ...row, messageId, personId: this.followups.onlyRecipient(messageId) });
      });
    });
    return ids.map((id) => this.views.reminder(id));
  }

  /** Change time, note or condition; it waits anew. */
  save(id: number, input: DraftReminder): ReminderView {
    const { condition, note, byEmail, zone } = input;
    return this.change(id, { ...WAITING, dueAt: this.read(input), condition, note, byEmail, zone });
  }

  /** Later: everything else stays as it is. */
  snooze(id: number, { when, zone }: SnoozeReminderRequest): ReminderView {
    return this.change(id, { ...WAITING, dueAt: this.read({ when, zone }) });
  }

  /** Takes a snooze back: it is due at this time again, which may have passed. Epoch milliseconds. */
  restore(id: number, dueAt: number): ReminderView {
    return this.change(id, { ...this.openAt(dueAt), dueAt });
  }

  /** Done; or not, after all, as it was at the time that it has. */
  setDone(id: number, isDone: boolean): ReminderView {
    const done = { state: 'done' as const, endedAt: this.clock.now(), emailPending: false };
    return this.change(id, isDone ? done : this.openAt(this.row(id).dueAt));
  }

  remove(id: number): void {
    const { messageId } = this.row(id);
    this.changed(() => {
      this.followups.removeReminder(id);
      if (messageId !== null) this.unit.note({ messageId });
    });
  }

  private openAt(dueAt: number) {
    return { state: dueAt > this.clock.now() ? ('waiting' as const) : ('due' as const), endedAt: null, reason: null };
  }

  private read({ when, zone }: SnoozeReminderRequest): number {
    return readTime(when, this.clock.now(), zone);
  }

  private row(id: number): ReminderRow {
    const row = this.followups.reminder(id);
    if (!row) throw notFound('reminder');
    return row;
  }

  private change(id: number, set: Partial<ReminderRow>): ReminderView {
    const { messageId } = this.row(id);
    this.changed(() => {
      this.followups.setReminder(id, set);
      if (messageId !== null) this.unit.note({ messageId });
    });
    return this.views.reminder(id);
  }

  private changed<T>(work: () => T): T {
    const outcome = this.unit.commit(work);
    this.following.wake();
    return outcome;
  }
}
