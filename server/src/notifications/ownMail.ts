import { Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Subscription } from 'rxjs';
import type { Notice } from '@kiraku/core/contract';
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
import { NoticesService } from './notices.service.js';
import { NoticesSettings } from './notices.settings.js';

const MAILED = 'notices.mailed';
/** What nobody has seen after this time goes by mail; what comes meanwhile goes with it. */
const AWAY_MS = MINUTE;
const LOOK_MS = 15 * SECOND;
/** A mail that could not be handed over is tried again after this. */
const RETRY_MS = 5 * MINUTE;
/** What is older is no news any more. */
const STALE_MS = DAY;
const MOST_EVENTS = 300;
const MOST_LINES = 30;

/** Writes to the user themself what nobody saw at the desk. What was written is noted after the mail server’s “250”. */
@Injectable()
export class OwnMail implements OnApplicationShutdown {
  private readonly logger = new Logger(OwnMail.name);
  private subscription: Subscription | undefined;
  private timer: NodeJS.Timeout | undefined;
  private writing: Promise<void> | undefined;

  constructor(
    private readonly events: EventsRepository,
    private readonly notices: NoticesService,
    private readonly settings: NoticesSettings,
    private readonly store: SettingsRepository,
    private readonly accounts: AccountService,
    private readonly outbox: OutboxService,
    private readonly changes: Changes,
    private readonly clock: Clock,
  ) {}

  /** Begins to follow what happens. */
  open(): void {
    // What happened before anybody ever looked counts as seen from here on, not from the first look on.
    this.notices.seen();
    this.subscription = this.changes.announced.subscribe(() => this.lookIn(LOOK_MS));
    this.lookIn(LOOK_MS);
  }

  async onApplicationShutdown(): Promise<void> {
    this.subscription?.unsubscribe();
    clearTimeout(this.timer);
    await this.writing;
  }

  /** Looks whether there is something that nobody has seen for long enough, and writes it. */
  async look(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const settings = this.settings.view();
    if (!Object.values(settings.rings).some((ways) => ways.includes('mail'))) return;
    const now = this.clock.now();
    const after = Math.max(this.notices.seen(), this.store.get<number>(MAILED) ?? 0);
    const events = this.events.tellable(after, MOST_EVENTS).filter(({ at }) => now - at < STALE_MS);
    const due = this.notices
      .of(events, settings)
      .filter(({ kind }) => kind !== null && settings.rings[kind].includes('mail'));
    const [oldest] = due;
    if (!oldest) return;
    if (isQuiet(settings, now) || now - oldest.at < AWAY_MS) return this.lookIn(LOOK_MS);
    const outcome = await this.outbox.deliver(await this.mail(due));
    if (outcome.kind === 'sent') return this.store.set(MAILED, due.at(-1)!.eventId);
    this.logger.warn(`What happened could not be written by mail: ${outcome.words}`);
    this.lookIn(RETRY_MS);
  }

  private lookIn(waitMs: number): void {
    if (this.timer !== undefined) return;
    this.timer = setTimeout(() => {
      this.timer = undefined;
      this.writing = this.look().catch((error: unknown) => this.logger.error(String(error)));
    }, waitMs);
    this.timer.unref();
  }

  private mail(notices: Notice[]): Promise<SingleMail> {
    return mailToSelf(this.accounts.sender(), mailWords(notices, this.settings.deskUrl(), this.settings.view().zone));
  }
}

function mailWords(notices: Notice[], deskUrl: string, zone: string): { subject: string; text: string } {
  const [first] = notices;
  const lines = notices.slice(0, MOST_LINES).map(({ title, detail, at, path }) => {
    const when = exactWords(at, zone);
    return `${title}\n${[when, detail].filter(Boolean).join('. ')}\n${deskUrl}${path}\n`;
  });
  const more = notices.length - lines.length;
  return {
    subject: notices.length === 1 ? first!.title : `${first!.title}, and ${counted(notices.length - 1, 'thing')} more`,
    text: [...lines, ...(more > 0 ? [`And ${more} more: ${deskUrl}/sent\n`] : [])].join('\n'),
  };
}
