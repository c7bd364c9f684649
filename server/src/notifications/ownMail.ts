import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Subscription } from 'rxjs';
import type { NotificationView } from '@kiraku/core/contract';
import { isQuiet } from '@kiraku/core/notifications';
import { counted, DAY, exactWords, MINUTE, SECOND } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { OutboxService } from '../outbox/outbox.service.js';
import type { SingleMail } from '../outbox/smtp.js';
import { AccountService } from '../settings/account.service.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Changes } from '../store/changes.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { mailToSelf } from './mailToSelf.js';
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
const MAX_EMAIL_LINES = 30;

/** Writes to the user themself what nobody saw at the desk. What was written is noted after the mail server’s “250”. */
@Injectable()
export class OwnMail implements OnApplicationShutdown {
  private readonly logger = new Logger(OwnMail.name);
  private subscription: Subscription | undefined;
  private timer: NodeJS.Timeout | undefined;
  private writing: Promise<void> | undefined;

  constructor(
    private readonly events: EventsRepository,
    private readonly notifications: NotificationsService,
    private readonly settings: NotificationsSettings,
    private readonly store: SettingsRepository,
    private readonly accounts: AccountService,
    private readonly outbox: OutboxService,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Begins to follow what happens. */
  open(): void {
    // What happened before anybody ever looked counts as seen from here on, not from the first look on.
    this.notifications.seen();
    this.subscription = this.changes.announced.subscribe(() => this.scheduleCheck(EMAIL_CHECK_MS));
    this.scheduleCheck(EMAIL_CHECK_MS);
  }

  async onApplicationShutdown(): Promise<void> {
    this.subscription?.unsubscribe();
    clearTimeout(this.timer);
    await this.writing;
  }

  /** Looks whether there is something that nobody has seen for long enough, and writes it. */
  async check(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const settings = this.settings.view();
    if (!Object.values(settings.channels).some((ways) => ways.includes('email'))) return;
    const now = this.clock.now();
    const after = Math.max(this.notifications.seen(), this.store.get<number>(MAILED) ?? 0);
    const events = this.events.notifiable(after, MAX_EVENTS_PER_EMAIL).filter(({ at }) => now - at < EMAIL_MAX_AGE_MS);
    const due = this.notifications
      .of(events, settings)
      .filter(({ kind }) => kind !== null && settings.channels[kind].includes('email'));
    const [oldest] = due;
    if (!oldest) return;
    if (isQuiet(settings, now) || now - oldest.at < EMAIL_AFTER_MS) return this.scheduleCheck(EMAIL_CHECK_MS);
    const outcome = await this.outbox.deliver(await this.mail(due));
    if (outcome.kind === 'sent') return this.store.set(MAILED, due.at(-1)!.eventId);
    this.logger.warn(`Notifications could not be emailed: ${outcome.words}`);
    this.scheduleCheck(EMAIL_RETRY_MS);
  }

  private scheduleCheck(waitMs: number): void {
    if (this.timer !== undefined) return;
    this.timer = setTimeout(() => {
      this.timer = undefined;
      this.writing = this.check().catch((error: unknown) => this.logger.error(String(error)));
    }, waitMs);
    this.timer.unref();
  }

  private mail(notifications: NotificationView[]): Promise<SingleMail> {
    return mailToSelf(
      this.accounts.sender(),
      mailWords(notifications, this.settings.deskUrl(), this.settings.view().zone),
    );
  }
}

function mailWords(
  notifications: NotificationView[],
  deskUrl: string,
  zone: string,
): { subject: string; text: string } {
  const [first] = notifications;
  const lines = notifications.slice(0, MAX_EMAIL_LINES).map(({ title, detail, at, path }) => {
    const when = exactWords(at, zone);
    return `${title}\n${[when, detail].filter(Boolean).join('. ')}\n${deskUrl}${path}\n`;
  });
  const more = notifications.length - lines.length;
  return {
    subject:
      notifications.length === 1
        ? first!.title
        : `${first!.title}, and ${counted(notifications.length - 1, 'event')} more`,
    text: [...lines, ...(more > 0 ? [`And ${more} more: ${deskUrl}/sent\n`] : [])].join('\n'),
  };
}
