import { Injectable, Logger, type BeforeApplicationShutdown } from '@nestjs/common';
import { throttleTime, asyncScheduler, type Subscription } from 'rxjs';
import type { DraftContent } from '@kiraku/core/contract';
import { countsOf } from '@kiraku/core/followups';
import { answerSubject, BLANK_CONTENT, escapeHtml, fillPlaceholders, goingOn } from '@kiraku/core/message';
import { noticeOfReminder } from '@kiraku/core/notifications';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { personWords } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { MailboxFollower } from '../inbox/mailboxFollower.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { SendingService } from '../messages/sending.service.js';
import { TemplatesRepository } from '../messages/templates.repository.js';
import { OutboxService } from '../outbox/outbox.service.js';
import type { SingleMail } from '../outbox/smtp.js';
import { AccountService } from '../settings/account.service.js';
import { mailToSelf } from '../notifications/mailToSelf.js';
import { NoticesSettings } from '../notifications/notices.settings.js';
import { Changes } from '../store/changes.js';
import { FollowupsRepository, type PlanRow, type ReminderRow, type StepRow } from './followups.repository.js';
import { FollowupsService } from './followups.service.js';

/** A timer longer than this is set again: the clock may have been changed, or the machine have slept. */
const LONGEST_SLEEP_MS = MINUTE;
const PAUSE_MS = 200;
const AFTER_FAULT_MS = 30 * SECOND;

/**
 * Brings back what is due: tells of reminders, and sends the next letters of plans. What is decided, and what it becomes,
 * is one transaction; a letter that a step became is scheduled by it and leaves like any other, unless its plan ended.
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
    private readonly notices: NoticesSettings,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  open(): void {
    this.subscription = this.changes.announced
      .pipe(throttleTime(PAUSE_MS, asyncScheduler, { leading: true, trailing: true }))
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
    let waitMs = AFTER_FAULT_MS;
    try {
      this.look();
      const next = this.followups.nextAt(this.clock.now());
      waitMs = Math.min(Math.max((next ?? Infinity) - this.clock.now(), SECOND), LONGEST_SLEEP_MS);
    } catch (error) {
      this.logger.error('What is due could not be looked for', error instanceof Error ? error.stack : String(error));
    }
    this.timer = setTimeout(() => this.wake(), waitMs);
    this.timer.unref();
  }

  /** The letter of a step as it would leave now. */
  letterOf(plan: PlanRow, step: StepRow): Pick<DraftContent, 'subject' | 'html'> {
    const { subject, html } = this.contentOf(plan, step);
    return { subject, html };
  }

  private look(): void {
    const now = this.clock.now();
    // Looked for often: whoever writes hits is not held up where there is nothing to do.
    if (!this.isAnythingDue(now)) return;
    const { due, sent } = this.followups.transaction(() => {
      this.service.settle();
      const reminders = this.followups.dueReminders(now);
      const alwaysMails = this.notices.view().rings.reminder_due.includes('mail');
      for (const { id, mails, messageId } of reminders) {
        this.followups.setReminder(id, { state: 'due', unmailed: mails || alwaysMails });
        this.changes.note({ reminderId: id });
        if (messageId !== null) this.changes.note({ messageId });
      }
      return {
        due: reminders.length,
        sent: this.followups.runningPlans().filter((plan) => this.proceed(plan, now)).length,
      };
    });
    if (due + sent > 0) this.changes.announce();
    if (sent > 0) this.sending.wake();
    this.mailing = this.mailing.then(() => this.mail()).catch((error: unknown) => this.logger.error(String(error)));
  }

  private isAnythingDue(now: number): boolean {
    const isDue = ({ state, dueAt }: StepRow) => state === 'planned' && dueAt !== null && dueAt <= now;
    return (
      this.followups.dueReminders(now).length > 0 ||
      (now >= this.mailAgainAt && this.followups.unmailed().length > 0) ||
      this.service.settleable().length > 0 ||
      this.followups.runningPlans().some(({ steps }) => steps.some(isDue))
    );
  }

  /** Whether a step of a plan is on its way now. */
  private proceed(plan: PlanRow, now: number): boolean {
    const letters = lettersOf(plan);
    const counts = countsOf(this.followups.countsOf(letters));
    const blind = this.undecided(letters) ?? this.mailbox.blind();
    const stepId = this.service.advance(plan, { kind: 'look', at: now, counts, blind });
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
  private undecided(letters: number[]): string | null {
    const writer = this.followups.undecidedReply(letters);
    return writer ? `${personWords(writer)} may have replied: say below the letter whether it is a reply` : null;
  }

  /** From its template, filled with what is known, in the conversation of the letter that it follows. */
  private contentOf(plan: PlanRow, { templateId }: StepRow): DraftContent {
    const row = this.messages.row(plan.messageId)!;
    const template = this.templates.template(templateId)!;
    const headers = lettersOf(plan).flatMap((id) =>
      this.messages
        .copies(id)
        .slice(0, 1)
        .map(({ messageIdHeader }) => messageIdHeader),
    );
    const [first] = this.messages.copies(plan.messageId);
    const known = { recipient: row.recipients[0], firm: first?.firm ?? '', sender: this.accounts.sender() };
    const { trackOpens, trackLinks, disclose, recipients, conversation } = row;
    return {
      ...BLANK_CONTENT,
      ...{ trackOpens, trackLinks, disclose, recipients, templateId },
      subject: answerSubject(row.subject),
      html: fillPlaceholders(template.html, known, escapeHtml),
      conversation: goingOn(conversation, headers),
    };
  }

  /** Writes to the user of what is due, where they wanted it, in the conversation that it is about. */
  private async mail(): Promise<void> {
    for (const row of this.followups.unmailed()) {
      const outcome = await this.outbox.deliver(await this.reminderMail(row));
      if (outcome.kind === 'sent') this.followups.setReminder(row.id, { unmailed: false });
      else {
        this.mailAgainAt = this.clock.now() + MINUTE;
        return this.logger.warn(`A reminder could not be written by mail: ${outcome.words}`);
      }
    }
  }

  private reminderMail({ id, messageId }: ReminderRow): Promise<SingleMail> {
    const [told] = this.followups.told([id]);
    const { title, detail, path } = noticeOfReminder(told!);
    return mailToSelf(this.accounts.sender(), {
      subject: told!.subject === null ? title : answerSubject(told!.subject),
      text: [title, detail, this.notices.deskUrl() + path].filter(Boolean).join('\n\n'),
      inReplyTo: messageId === null ? undefined : this.messages.copies(messageId)[0]?.messageIdHeader,
    });
  }
}

/** What a plan has sent so far, in its order; the letter that it follows first. */
function lettersOf({ messageId, steps }: PlanRow): number[] {
  return [messageId, ...steps.flatMap((step) => step.messageId ?? [])];
}
