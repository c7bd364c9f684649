import { Injectable } from '@nestjs/common';
import type { FollowupsView, PlanView, ReminderView } from '@kiraku/core/contract';
import { readWhen } from '@kiraku/core/followups';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { invalid, notFound } from '../http/problem.js';
import { MailboxFollower } from '../incoming/mailboxFollower.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SentService } from '../messages/sent.service.js';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { TemplatesRepository } from '../messages/templates.repository.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { Following } from './following.js';
import { FollowupsRepository, type NewReminder, type PlanRow, type ReminderRow } from './followups.repository.js';
import { FollowupsService } from './followups.service.js';

/** More than anybody keeps in mind; the earliest are shown. */
const MAX_OPEN_REMINDERS = 500;
const MAX_ENDED_REMINDERS = 100;
/** What was done, or went away, is shown for as long. */
const SHOWN_ENDED_MS = 14 * DAY;

/** It waits as if it had never asked: nor is it written about before it does. */
const WAITING = { state: 'waiting', reason: null, endedAt: null, emailPending: false } as const;

/** What a reminder is set with. */
export interface ReminderInput extends Pick<NewReminder, 'condition' | 'note' | 'byEmail' | 'zone'> {
  when: string;
}

/** What the desk shows and changes of all that comes back automatically. */
@Injectable()
export class RemindersService {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly service: FollowupsService,
    private readonly following: Following,
    private readonly messages: MessagesRepository,
    private readonly rows: SummariesRepository,
    private readonly sent: SentService,
    private readonly templates: TemplatesRepository,
    private readonly mailbox: MailboxFollower,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** Everything, or what belongs to one conversation. */
  view(messageId: number | null): FollowupsView {
    const messageIds = messageId === null ? null : this.sent.conversationIds(messageId);
    const since = this.clock.now() - SHOWN_ENDED_MS;
    const reminders = messageIds
      ? this.followups.remindersOf(messageIds)
      : [
          ...this.followups.openReminders(MAX_OPEN_REMINDERS),
          ...this.followups.endedReminders(since, MAX_ENDED_REMINDERS),
        ];
    const plans = messageIds
      ? this.followups.plansOf(messageIds)
      : [...this.followups.runningPlans(), ...this.followups.endedPlans(since)];
    return {
      reminders: this.reminderViews(reminders),
      plans: this.planViews(plans),
      replyProblem: this.mailbox.replyProblem(),
    };
  }

  /** Sets the same reminder on several messages, or on a person, or on nothing. */
  add(input: ReminderInput, about: { messageIds: number[]; personId: number | null }): ReminderView[] {
    const { condition, note, byEmail, zone } = input;
    const now = this.clock.now();
    const row = { ...WAITING, dueAt: this.read(input), condition, note, byEmail, zone, createdAt: now };
    if (about.messageIds.length === 0 && condition !== 'always')
      throw invalid('Without a message there is nothing to wait for: choose “in any case”.');
    const ids = this.changed(() => {
      if (about.messageIds.length === 0) return [this.followups.addReminder({ ...row, personId: about.personId })];
      return about.messageIds.map((messageId) => {
        if (!this.messages.row(messageId)?.queuedAt) throw notFound('sent message');
        this.changes.note({ messageId });
        return this.followups.addReminder({ ...row, messageId, personId: this.followups.onlyRecipient(messageId) });
      });
    });
    return this.reminderViews(ids.map((id) => this.followups.reminder(id)!));
  }

  /** Change time, note or condition; it waits anew. */
  save(id: number, input: ReminderInput): ReminderView {
    const { condition, note, byEmail, zone } = input;
    return this.change(id, { ...WAITING, dueAt: this.read(input), condition, note, byEmail, zone });
  }

  /** Later: everything else stays as it is. */
  snooze(id: number, { when, zone }: Pick<ReminderInput, 'when' | 'zone'>): ReminderView {
    return this.change(id, { ...WAITING, dueAt: this.read({ when, zone }) });
  }

  /** Done; or not, after all, as it was at the time that it has. */
  setDone(id: number, isDone: boolean): ReminderView {
    const now = this.clock.now();
    const row = this.row(id);
    const open = { state: row.dueAt > now ? ('waiting' as const) : ('due' as const), endedAt: null, reason: null };
    return this.change(id, isDone ? { state: 'done', endedAt: now, emailPending: false } : open);
  }

  remove(id: number): void {
    const { messageId } = this.row(id);
    this.changed(() => {
      this.followups.removeReminder(id);
      if (messageId !== null) this.changes.note({ messageId });
    });
  }

  stopPlan(id: number): PlanView {
    const plan = this.followups.plan(id);
    if (!plan) throw notFound('plan');
    this.changed(() => this.service.advance(plan, { kind: 'ended', why: 'Stopped by you' }));
    return this.planViews([this.followups.plan(id)!])[0]!;
  }

  /** Gives the next message of a plan another time, or makes it from another template. */
  saveStep(
    id: number,
    change: { when?: string | undefined; zone?: string | undefined; templateId?: number | undefined },
  ): PlanView {
    const { step, plan } = this.plannedStep(id);
    const { when, templateId } = change;
    const set = {
      ...(when !== undefined && { dueAt: this.read({ when, zone: change.zone ?? plan.zone }), reason: null }),
      ...(templateId !== undefined && { templateId }),
    };
    if (templateId !== undefined && !this.templates.isTemplate(templateId))
      throw invalid('There is no such template.', [{ field: 'templateId', message: 'There is no such template.' }]);
    if (when !== undefined && step.dueAt === null)
      throw invalid('Its time counts from the message before it, which is not sent yet. Change that one first.');
    this.changed(() => {
      this.followups.setStep(id, set);
      this.changes.note({ messageId: plan.messageId });
    });
    return this.planViews([this.followups.plan(plan.id)!])[0]!;
  }

  /** Takes one message out of a plan. */
  leaveOut(id: number): PlanView {
    const { step, plan } = this.plannedStep(id);
    const index = plan.steps.findIndex((one) => one.id === step.id);
    this.changed(() => this.service.advance(plan, { kind: 'omitted', index }));
    return this.planViews([this.followups.plan(plan.id)!])[0]!;
  }

  /** The message of a step, filled with what is known. */
  stepBody(id: number) {
    const { step, plan } = this.plannedStep(id);
    return this.following.bodyOf(plan, step);
  }

  /** Reminders that wait or ask, and steps to come, for a calendar. */
  open(): { reminders: ReminderView[]; plans: PlanView[] } {
    return {
      reminders: this.reminderViews(this.followups.openReminders(MAX_OPEN_REMINDERS)),
      plans: this.planViews(this.followups.runningPlans()),
    };
  }

  reminder(id: number): ReminderView {
    return this.reminderViews([this.row(id)])[0]!;
  }

  private plannedStep(id: number) {
    const step = this.followups.step(id);
    const plan = step && this.followups.plan(step.planId);
    if (!step || !plan) throw notFound('step');
    if (plan.state !== 'running' || step.state !== 'planned')
      throw invalid('This message was sent, or will not be sent any more.');
    return { step, plan };
  }

  private read({ when, zone }: Pick<ReminderInput, 'when' | 'zone'>): number {
    const read = readWhen(when, this.clock.now(), zone);
    if ('problem' in read) throw invalid(read.problem, [{ field: 'when', message: read.problem }]);
    return read.at;
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
      if (messageId !== null) this.changes.note({ messageId });
    });
    return this.reminder(id);
  }

  private changed<T>(work: () => T): T {
    const outcome = this.unit.commit(work);
    this.following.wake();
    return outcome;
  }

  private reminderViews(rows: ReminderRow[]): ReminderView[] {
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
