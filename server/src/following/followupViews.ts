import { Injectable } from '@nestjs/common';
import type { FollowupsView, PlanView, ReminderView } from '@kiraku/core/contract';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupsRepository, type PlanRow, type ReminderRow } from '../followups/followups.repository.js';
import { notFound } from '../http/problem.js';
import { MailboxFollower } from '../incoming/mailboxFollower.js';
import { SentService } from '../messages/sent.service.js';
import { SummariesRepository } from '../messages/summaries.repository.js';

/** Of reminders and of plans each, those that are due first. */
const MAX_SHOWN_OPEN = 100;
const MAX_CALENDAR_OPEN = 500;
const MAX_SHOWN_ENDED = 100;
/** What was done, or went away, is shown for as long. */
const SHOWN_ENDED_MS = 14 * DAY;

/** What the desk shows of reminders and automatic follow-ups. */
@Injectable()
export class FollowupViews {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly rows: SummariesRepository,
    private readonly sent: SentService,
    private readonly mailbox: MailboxFollower,
    private readonly clock: Clock,
  ) {}

  /** Everything, or what belongs to one conversation. */
  view(messageId: number | null): FollowupsView {
    const messageIds = messageId === null ? null : this.sent.conversationIds(messageId);
    const since = this.clock.now() - SHOWN_ENDED_MS;
    const reminders = messageIds
      ? this.followups.remindersOf(messageIds)
      : [...this.followups.openReminders(MAX_SHOWN_OPEN), ...this.followups.endedReminders(since, MAX_SHOWN_ENDED)];
    const plans = messageIds
      ? this.followups.plansOf(messageIds)
      : [...this.followups.runningPlans(MAX_SHOWN_OPEN), ...this.followups.endedPlans(since, MAX_SHOWN_ENDED)];
    return {
      reminders: this.reminderViews(reminders),
      plans: this.planViews(plans),
      open: this.followups.open(),
      replyProblem: this.mailbox.replyProblem(),
    };
  }

  /** Reminders that wait or ask, and steps to come, for a calendar. */
  open(): { reminders: ReminderView[]; plans: PlanView[] } {
    return {
      reminders: this.reminderViews(this.followups.openReminders(MAX_CALENDAR_OPEN)),
      plans: this.planViews(this.followups.runningPlans(MAX_CALENDAR_OPEN)),
    };
  }

  /** @throws 404 where there is none */
  reminder(id: number): ReminderView {
    const row = this.followups.reminder(id);
    if (!row) throw notFound('reminder');
    return this.reminderViews([row])[0]!;
  }

  /** One that is there. */
  plan(id: number): PlanView {
    return this.planViews([this.followups.plan(id)!])[0]!;
  }

  reminderViews(rows: ReminderRow[]): ReminderView[] {
    const messages = this.summaries(rows.flatMap(({ messageId }) => messageId ?? []));
    const people = new Map(
      this.followups.people(rows.flatMap(({ personId }) => personId ?? [])).map((one) => [one.id, one]),
    );
    return rows.map(({ id, state, dueAt, condition, note, byEmail, zone, reason, endedAt, messageId, personId }) => ({
      id,
      state,
      dueAt,
      condition,
      note,
      byEmail,
      zone,
      reason,
      endedAt,
      message: messageId === null ? null : (messages.get(messageId) ?? null),
      person: personId === null ? null : (people.get(personId) ?? null),
    }));
  }

  private planViews(rows: PlanRow[]): PlanView[] {
    const messages = this.summaries(rows.map(({ messageId }) => messageId));
    const names = this.followups.templateNames(rows.flatMap(({ steps }) => steps.map(({ templateId }) => templateId)));
    return rows.map(({ id, state, zone, reason, endedAt, messageId, steps }) => ({
      id,
      state,
      zone,
      reason,
      endedAt,
      message: messages.get(messageId)!,
      steps: steps.map(({ planId: _planId, ...step }) => ({ ...step, template: names.get(step.templateId) ?? '' })),
    }));
  }

  private summaries(ids: number[]) {
    return new Map(this.rows.of([...new Set(ids)]).map((summary) => [summary.id, summary]));
  }
}
