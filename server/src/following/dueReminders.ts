import { Injectable, Logger } from '@nestjs/common';
import { replySubject } from '@kiraku/core/message';
import { notificationOfReminder } from '@kiraku/core/notifications';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupsRepository, type ReminderRow } from '../followups/followups.repository.js';
import { FollowupsService } from '../followups/followups.service.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { MailToSelf } from '../notifications/mailToSelf.js';
import { NotificationsSettings } from '../notifications/notifications.settings.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';

/** After this, an email that the mail server did not take is tried again. */
const REMINDER_EMAIL_RETRY_MS = MINUTE;

/** Notifies of reminders that are due, by email too where the user wanted it, in the conversation that each is about. */
@Injectable()
export class DueReminders {
  private readonly logger = new Logger(DueReminders.name);
  private readonly due: DueWork;

  constructor(
    private readonly followups: FollowupsRepository,
    private readonly service: FollowupsService,
    private readonly messages: MessagesRepository,
    private readonly mailToSelf: MailToSelf,
    private readonly notifications: NotificationsSettings,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'reminders by email', run: () => this.mail() });
  }

  wake(): void {
    this.due.wake();
  }

  /** Ends those whose messages have done what they waited for; the others that are due ask from now on. */
  remind(now: number): void {
    const alwaysMails = this.notifications.view().channels.reminder_due.includes('email');
    this.service.remind(now, alwaysMails);
    this.wake();
  }

  private async mail(): Promise<number | null> {
    for (const row of this.followups.emailPending()) {
      const outcome = await this.mailToSelf.send(this.wordsOf(row));
      if (outcome.kind === 'accepted') this.followups.setReminder(row.id, { emailPending: false });
      else {
        this.logger.warn(`A reminder could not be emailed: ${outcome.words}`);
        return this.clock.now() + REMINDER_EMAIL_RETRY_MS;
      }
    }
    return null;
  }

  private wordsOf({ id, messageId }: ReminderRow) {
    const [notified] = this.followups.notified([id]);
    const { title, detail, path } = notificationOfReminder(notified!);
    return {
      subject: notified!.subject === null ? title : replySubject(notified!.subject),
      text: [title, detail, this.notifications.deskUrl() + path].filter(Boolean).join('\n\n'),
      inReplyTo: messageId === null ? undefined : this.messages.copies(messageId)[0]?.messageIdHeader,
    };
  }
}
