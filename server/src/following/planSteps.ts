import { Injectable } from '@nestjs/common';
import type { DraftContent } from '@kiraku/core/contract';
import { countsOf } from '@kiraku/core/followups';
import { BLANK_CONTENT, escapeHtml, fillPlaceholders, goingOn, replySubject } from '@kiraku/core/message';
import { personText } from '@kiraku/core/sentences';
import { FollowupsRepository, type PlanRow, type StepRow } from '../followups/followups.repository.js';
import { FollowupsService } from '../followups/followups.service.js';
import { MailboxFollower } from '../incoming/mailboxFollower.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { TemplatesRepository } from '../messages/templates.repository.js';
import { AccountService } from '../settings/account.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';

/** Sends the next message of a plan. */
@Injectable()
export class PlanSteps {
  constructor(
    private readonly followups: FollowupsRepository,
    private readonly service: FollowupsService,
    private readonly messages: MessagesRepository,
    private readonly templates: TemplatesRepository,
    private readonly mailbox: MailboxFollower,
    private readonly accounts: AccountService,
    private readonly unit: UnitOfWork,
  ) {}

  /** The message of a step as it would leave now. */
  bodyOf(plan: PlanRow, step: StepRow): Pick<DraftContent, 'subject' | 'html'> {
    const { subject, html } = this.contentOf(plan, step);
    return { subject, html };
  }

  /** Goes on with the plans that are due. Returns how many of their messages are on their way now. */
  proceedDue(now: number): number {
    return this.unit.commit(() => this.followups.duePlans(now).filter((plan) => this.proceed(plan, now)).length);
  }

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
    this.unit.note({ messageId: draft.id });
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
      files: this.templates.filesOf(template),
    };
  }
}

/** What a plan has sent so far, in its order; the message that it follows first. */
function messagesOf({ messageId, steps }: PlanRow): number[] {
  return [messageId, ...steps.flatMap((step) => step.messageId ?? [])];
}
