import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { throttleTime, asyncScheduler, type Subscription } from 'rxjs';
import { personText } from '@kiraku/core/sentences';
import type { DraftContent } from '@kiraku/core/contract';
import { countsOf } from '@kiraku/core/followups';
import { replySubject, BLANK_CONTENT, escapeHtml, fillPlaceholders, goingOn } from '@kiraku/core/message';
import { notificationOfReminder } from '@kiraku/core/notifications';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { MailboxFollower } from '../incoming/mailboxFollower.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SendingService } from '../messages/sending.service.js';
import { TemplatesRepository } from '../messages/templates.repository.js';
import { OutboxService } from '../outbox/outbox.service.js';
import type { SingleMail } from '../outbox/smtp.js';
import { AccountService } from '../settings/account.service.js';
import { mailToSelf } from '../notifications/mailToSelf.js';
import { NotificationsSettings } from '../notifications/notifications.settings.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { FollowupsRepository, type PlanRow, type ReminderRow, type StepRow } from './followups.repository.js';
import { FollowupsService } from './followups.service.js';

/** A timer longer than this is set again: the clock may have been changed, or the machine have slept. */
const MAX_SLEEP_MS = MINUTE;
const FOLLOWUPS_PAUSE_MS = 200;
const FOLLOWUPS_ERROR_BACKOFF_MS = 30 * SECOND;

/**
 * Acts on what is due: notifies of reminders, and sends the next messages of plans. What is decided, and what it becomes,
 * is one transaction; a message that a step became is scheduled by it and leaves like any other, unless its plan ended.
 */
@Injectable()
export class Following implements BeforeApplicationShutdown {
  private readonly logger = new Logger(Following.name);
  private subscription: Subscription | undefined;
  private timer: NodeJS.Timeout | undefined;
  private mailing: Promise<void> = Promise.resolve();
  /** Not before then: the mail server did not take the last one. */
  private mailAgainAt = 0;
  private isStopped = false;

  constructor(
    private readonly followups: FollowupsRepository,
    private readonly service: FollowupsService,
    private readonly messages: MessagesRepository,
    private readonly templates: TemplatesRepository,
    private readonly sending: SendingService,
    private readonly mailbox: MailboxFollower,
    private readonly accounts: AccountService,
    private readonly outbox: OutboxService,
    private readonly notifications: NotificationsSettings,
    private readonly changes: Changes,
    private readonly work: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  open(): void {
    this.subscription = this.changes.announced
      .pipe(throttleTime(FOLLOWUPS_PAUSE_MS, asyncScheduler, { leading: true, trailing: true }))
      .subscribe(() => this.wake());
    this.wake();
  }

  async beforeApplicationShutdown(): Promise<void> {
    this.isStopped = true;
    this.subscription?.unsubscribe();
    clearTimeout(this.timer);
    await this.mailing;
  }

  /** Looks what is due. Call it whenever a time was set; it looks by itself when something happened. */
  wake(): void {
    clearTimeout(this.timer);
    if (this.isStopped) return;
    let waitMs = FOLLOWUPS_ERROR_BACKOFF_MS;
    try {
      this.check();
      const next = this.followups.nextAt(this.clock.now());
      waitMs = Math.min(Math.max((next ?? Infinity) - this.clock.now(), SECOND), MAX_SLEEP_MS);
    } catch (error) {
      this.logger.error('What is due could not be looked for', error instanceof Error ? error.stack : String(error));
    }
    this.timer = setTimeout(() => this.wake(), waitMs);
    this.timer.unref();
  }

  /** The message of a step as it would leave now. */
  bodyOf(plan: PlanRow, step: StepRow): Pick<DraftContent, 'subject' | 'html'> {
    const { subject, html } = this.contentOf(plan, step);
    return { subject, html };
  }

  private check(): void {
    const now = this.clock.now();
    // Looked for often: whoever writes hits is not held up where there is nothing to do.
    if (!this.isAnythingDue(now)) return;
    const { sent } = this.work.commit(() => {
      this.service.resolve();
      const reminders = this.followups.dueReminders(now);
      const alwaysMails = this.notifications.view().channels.reminder_due.includes('email');
      for (const { id, byEmail, messageId } of reminders) {
        this.followups.setReminder(id, { state: 'due', emailPending: byEmail || alwaysMails });
        this.changes.note({ reminderId: id });
        if (messageId !== null) this.changes.note({ messageId });
      }
      return {
        due: reminders.length,
        sent: this.followups.runningPlans().filter((plan) => this.proceed(plan, now)).length,
      };
    });
    if (sent > 0) this.sending.wake();
    this.mailing = this.mailing.then(() => this.mail()).catch((error: unknown) => this.logger.error(String(error)));
  }

  private isAnythingDue(now: number): boolean {
    const isDue = ({ state, dueAt }: StepRow) => state === 'planned' && dueAt !== null && dueAt <= now;
    return (
      this.followups.dueReminders(now).length > 0 ||
      (now >= this.mailAgainAt && this.followups.emailPending().length > 0) ||
      this.service.resolvable().length > 0 ||
      this.followups.runningPlans().some(({ steps }) => steps.some(isDue))
    );
  }

  /** Whether a step of a plan is on its way now. */
  private proceed(plan: PlanRow, now: number): boolean {
    const messageIds = messagesOf(plan);
    const counts = countsOf(this.followups.countsOf(messageIds));
    const replyProblem = this.undecided(messageIds) ?? this.mailbox.replyProblem();
    const stepId = this.service.advance(plan, { kind: 'check', at: now, counts, replyProblem });
    const step = stepId === undefined ? undefined : plan.steps.find(({ id }) => id === stepId);
    if (!step) return false;
    const sender = this.accounts.sender();
    const draft = this.messages.addDraft(this.contentOf(plan, step), sender, now);
    this.messages.schedule(draft.id, draft.revision, sender, { sendAt: now, recurrence: null }, now);
    this.followups.setStep(step.id, { messageId: draft.id });
    this.changes.note({ messageId: draft.id });
    return true;
  }

  /** Why nothing is sent before the user has said something; null where nothing is to be said. */
  private undecided(messageIds: number[]): string | null {
    const writer = this.followups.undecidedReply(messageIds);
    return writer ? `${personText(writer)} may have replied: say below the message whether it is a reply` : null;
  }

  /** From its template, filled with what is known, in the conversation of the message that it follows. */
  private contentOf(plan: PlanRow, { templateId }: StepRow): DraftContent {
    const row = this.messages.row(plan.messageId)!;
    const template = this.templates.template(templateId)!;
    const headers = messagesOf(plan).flatMap((id) =>
      this.messages
        .copies(id)
        .slice(0, 1)
        .map(({ messageIdHeader }) => messageIdHeader),
    );
    const [first] = this.messages.copies(plan.messageId);
    const known = { recipient: row.recipients[0], company: first?.company ?? '', sender: this.accounts.sender() };
    const { trackOpens, trackClicks, disclose, recipients, conversation } = row;
    return {
      ...BLANK_CONTENT,
      trackOpens,
      trackClicks,
      disclose,
      recipients,
      templateId,
      subject: replySubject(row.subject),
      html: fillPlaceholders(template.html, known, escapeHtml),
      conversation: goingOn(conversation, headers),
    };
  }

  /** Writes to the user of what is due, where they wanted it, in the conversation that it is about. */
  private async mail(): Promise<void> {
    for (const row of this.followups.emailPending()) {
      const outcome = await this.outbox.deliver(await this.reminderMail(row));
      if (outcome.kind === 'sent') this.followups.setReminder(row.id, { emailPending: false });
      else {
        this.mailAgainAt = this.clock.now() + MINUTE;
        return this.logger.warn(`A reminder could not be emailed: ${outcome.words}`);
      }
    }
  }

  private reminderMail({ id, messageId }: ReminderRow): Promise<SingleMail> {
    const [notified] = this.followups.notified([id]);
    const { title, detail, path } = notificationOfReminder(notified!);
    return mailToSelf(this.accounts.sender(), {
      subject: notified!.subject === null ? title : replySubject(notified!.subject),
      text: [title, detail, this.notifications.deskUrl() + path].filter(Boolean).join('\n\n'),
      inReplyTo: messageId === null ? undefined : this.messages.copies(messageId)[0]?.messageIdHeader,
    });
  }
}

/** What a plan has sent so far, in its order; the message that it follows first. */
function messagesOf({ messageId, steps }: PlanRow): number[] {
  return [messageId, ...steps.flatMap((step) => step.messageId ?? [])];
}
