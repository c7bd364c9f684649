import { Injectable, Logger } from '@nestjs/common';
import { summaryEmail } from '@kiraku/core/sentences';
import { lastSummaryAt, nextSummaryAt } from '@kiraku/core/summary';
import { MINUTE } from '@kiraku/core/time';
import type { SmtpOutcome } from '../delivery/smtp.js';
import { Clock } from '../environment/clock.js';
import { MailToSelf } from '../notifications/mailToSelf.js';
import { NotificationsSettings } from '../notifications/notifications.settings.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { SummaryService } from './summary.service.js';
import { SummarySettings } from './summary.settings.js';

/** A summary that could not be sent is tried again after this. */
const SUMMARY_RETRY_MS = 5 * MINUTE;

/**
 * Emails the summary to the user when it is time. What was missed while Kiraku did not run is sent once; that it was sent
 * is noted after the mail server’s “250”.
 */
@Injectable()
export class SummaryMail {
  private readonly logger = new Logger(SummaryMail.name);
  private readonly due: DueWork;

  constructor(
    private readonly summary: SummaryService,
    private readonly settings: SummarySettings,
    private readonly notifications: NotificationsSettings,
    private readonly mailToSelf: MailToSelf,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'summary by email', run: () => this.sendDue() });
  }

  /** Sends what is due. Call it whenever a time was set; resolves when it is sent, or put off. */
  check(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  /** Sends one now, whatever the settings say. Resolves to what the mail server said. */
  async send(since: number | null, zone: string): Promise<SmtpOutcome> {
    return this.mailToSelf.send(summaryEmail(await this.summary.view(since, zone), this.notifications.deskUrl()));
  }

  private async sendDue(): Promise<number | null> {
    const now = this.clock.now();
    const settings = this.settings.view();
    const dueAt = lastSummaryAt(settings, now);
    if (dueAt !== null && this.settings.isDue(dueAt)) {
      const view = await this.summary.view(this.settings.emailedAt(), settings.zone);
      if (!view.isEmpty || settings.evenIfEmpty) {
        const outcome = await this.mailToSelf.send(summaryEmail(view, this.notifications.deskUrl()));
        if (outcome.kind !== 'accepted') {
          this.logger.warn(`The summary could not be emailed: ${outcome.words}`);
          return now + SUMMARY_RETRY_MS;
        }
      }
      this.settings.setEmailed(now);
    }
    return nextSummaryAt(settings, now);
  }
}
