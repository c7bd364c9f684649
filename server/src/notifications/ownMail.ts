import { Injectable, Logger } from '@nestjs/common';
import type { NotificationView } from '@kiraku/core/contract';
import { isQuiet } from '@kiraku/core/notifications';
import { notificationsEmail } from '@kiraku/core/sentences';
import { DAY, MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { EventsRepository } from '../tracking/events.repository.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { MailToSelf } from './mailToSelf.js';
import { NotificationsService } from './notifications.service.js';
import { NotificationsSettings } from './notifications.settings.js';

const MAILED = 'notifications.mailed';
/** What nobody has seen after this time goes by mail; what comes meanwhile goes with it. */
const EMAIL_AFTER_MS = MINUTE;
const EMAIL_CHECK_MS = 15 * SECOND;
/** A mail that could not be sent is tried again after this. */
const EMAIL_RETRY_MS = 5 * MINUTE;
/** What is older is no news any more. */
const EMAIL_MAX_AGE_MS = DAY;
const MAX_EVENTS_PER_EMAIL = 300;

/** Writes to the user themself what nobody saw at the desk. What was written is noted after the mail server’s “250”. */
@Injectable()
export class OwnMail {
  private readonly logger = new Logger(OwnMail.name);
  private readonly due: DueWork;

  constructor(
    private readonly events: EventsRepository,
    private readonly notifications: NotificationsService,
    private readonly settings: NotificationsSettings,
    private readonly store: SettingsRepository,
    private readonly mailToSelf: MailToSelf,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({
      name: 'notifications by email',
      commitPauseMs: EMAIL_CHECK_MS,
      run: () => this.write(),
    });
  }

  /** Writes what nobody has seen for long enough. Resolves when it is written. */
  check(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  /** Resolves to when there may be more. */
  private async write(): Promise<number | null> {
    // What happened before the first start counts as seen from there on, not from the first visit on.
    const seen = this.notifications.seen();
    const settings = this.settings.view();
    if (!Object.values(settings.channels).some((ways) => ways.includes('email'))) return null;
    const now = this.clock.now();
    const after = Math.max(seen, this.store.get<number>(MAILED) ?? 0);
    const events = this.events.notifiable(after, MAX_EVENTS_PER_EMAIL).filter(({ at }) => now - at < EMAIL_MAX_AGE_MS);
    const due = this.notifications
      .of(events, settings)
      .filter(({ kind }) => kind !== null && settings.channels[kind].includes('email'));
    const [oldest] = due;
    if (!oldest) return null;
    if (isQuiet(settings, now)) return now + EMAIL_CHECK_MS;
    if (now - oldest.at < EMAIL_AFTER_MS) return oldest.at + EMAIL_AFTER_MS;
    const outcome = await this.mailToSelf.send(this.mail(due));
    if (outcome.kind === 'accepted') {
      this.store.set(MAILED, due.at(-1)!.eventId);
      return null;
    }
    this.logger.warn(`Notifications could not be emailed: ${outcome.words}`);
    return now + EMAIL_RETRY_MS;
  }

  private mail(notifications: NotificationView[]) {
    return notificationsEmail(notifications, this.settings.deskUrl(), this.settings.view().zone);
  }
}
