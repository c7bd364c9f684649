import { Injectable, Logger } from '@nestjs/common';
import { checkNotification } from '@kiraku/core/sentences';
import { MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { MailToSelf } from '../notifications/mailToSelf.js';
import { NotificationsSettings } from '../notifications/notifications.settings.js';
import { ChecksRepository } from '../settings/checks.repository.js';
import { Works } from '../work/works.js';

/** Often it is the mail server itself that does not answer. */
const CHECK_MAIL_RETRY_MS = 10 * MINUTE;
const CHECK_MAIL_COMMIT_PAUSE_MS = SECOND;

/** Writes to the user themself what the check-up found. */
@Injectable()
export class CheckMail {
  private readonly logger = new Logger(CheckMail.name);

  constructor(
    private readonly found: ChecksRepository,
    private readonly mailToSelf: MailToSelf,
    private readonly notifications: NotificationsSettings,
    private readonly clock: Clock,
    works: Works,
  ) {
    works.add({ name: 'check-up by email', commitPauseMs: CHECK_MAIL_COMMIT_PAUSE_MS, run: () => this.mail() });
  }

  private async mail(): Promise<number | null> {
    for (const check of this.found.emailPending()) {
      // What works again needs nobody.
      if (check.state === 'failing') {
        const { title, detail, path } = checkNotification(check);
        const text = [detail, check.advice, this.notifications.deskUrl() + path].filter(Boolean).join('\n\n');
        const outcome = await this.mailToSelf.send({ subject: title, text });
        if (outcome.kind !== 'accepted') {
          this.logger.warn(`What the check-up found could not be emailed: ${outcome.words}`);
          return this.clock.now() + CHECK_MAIL_RETRY_MS;
        }
      }
      this.found.setEmailPending(check.name, false);
    }
    return null;
  }
}
