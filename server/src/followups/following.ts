import { Injectable, Logger } from '@nestjs/common';
import { personText } from '@kiraku/core/sentences';
import type { DraftContent } from '@kiraku/core/contract';
import { countsOf } from '@kiraku/core/followups';
import { replySubject, BLANK_CONTENT, escapeHtml, fillPlaceholders, goingOn } from '@kiraku/core/message';
import { notificationOfReminder } from '@kiraku/core/notifications';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { MailboxFollower } from '../incoming/mailboxFollower.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SendingService } from '../messages/sending.service.js';
import { TemplatesRepository } from '../messages/templates.repository.js';
import { OutboxService } from '../delivery/outbox.service.js';
import type { SingleMail } from '../delivery/smtp.js';
import { AccountService } from '../settings/account.service.js';
import { mailToSelf } from '../notifications/mailToSelf.js';
import { NotificationsSettings } from '../notifications/notifications.settings.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { FollowupsRepository, type PlanRow, type ReminderRow, type StepRow } from './followups.repository.js';
import { FollowupsService } from './followups.service.js';

const FOLLOWUPS_PAUSE_MS = 200;
/** What is held is looked at again after this. */
const HELD_RECHECK_MS = MINUTE;
/** After this, an email that the mail server did not take is tried again. */
const REMINDER_EMAIL_RETRY_MS = MINUTE;

/**
 * Acts on what is due: notifies of reminders, and sends the next messages of plans. What is decided, and what it becomes,
 * is one transaction; a message that a step became is scheduled by it and leaves like any other, unless its plan ended.
 */
@Injectable()
export class Following {
  private readonly logger = new Logger(Following.name);
  private readonly due: DueWork;
  private readonly emails: DueWork;

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
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'follow-ups', commitPauseMs: FOLLOWUPS_PAUSE_MS, run: () => this.check() });
    this.emails = works.add({ name: 'reminders by email', run: () => this.mail() });
  }

  /** Acts on what is due. Call it whenever a time was set; it acts by itself when something happened. */
  wake(): void {
    this.due.wake();
    this.emails.wake();
  }

  /** The message of a step as it would leave now. */
  bodyOf(plan: PlanRow, step: StepRow): Pick<DraftContent, 'subject' | 'html'> {
    const { subject, html } = this.contentOf(plan, step);
    return { subject, html };
  }

  /** Returns when something is due next. */
  private check(): number | null {
    const now = this.clock.now();
    // Looked for often: whoever writes hits is not held up where there is nothing to do.
    if (this.isAnythingDue(now)) this.act(now);
    const next = this.followups.nextAt(now);
    // A step may be held, as by a mailbox that was not checked yet: what holds it may end without a commit.
    return this.isAnythingDue(now) ? Math.min(now + HELD_RECHECK_MS, next ?? Infinity) : next;
  }

  private act(now: number): void {
    const sent = this.unit.commit(() => {
      this.service.resolve();
      const reminders = this.followups.dueReminders(now);
      const alwaysMails = this.notifications.view().channels.reminder_due.includes('email');
      for (const { id, byEmail, messageId } of reminders) {
        this.followups.setReminder(id, { state: 'due', emailPending: byEmail || alwaysMails });
        this.changes.note({ reminderId: id });
        if (messageId !== null) this.changes.note({ messageId });
      }
      return this.followups.runningPlans().filter((plan) => this.proceed(plan, now)).length;
    });
    if (sent > 0) this.sending.wake();
    this.emails.wake();
  }

  private isAnythingDue(now: number): boolean {
    const isDue = ({ state, dueAt }: StepRow) => state === 'planned' && dueAt !== null && dueAt <= now;
    return (
      this.followups.dueReminders(now).length > 0 ||
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
  private async mail(): Promise<number | null> {
    for (const row of this.followups.emailPending()) {
      const outcome = await this.outbox.deliver(await this.reminderMail(row));
      if (outcome.kind === 'accepted') this.followups.setReminder(row.id, { emailPending: false });
      else {
        this.logger.warn(`A reminder could not be emailed: ${outcome.words}`);
        return this.clock.now() + REMINDER_EMAIL_RETRY_MS;
      }
    }
    return null;
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
