import { Inject, Injectable } from '@nestjs/common';
import type { NotificationSettingsView } from '@kiraku/core/contract';
import { DEFAULT_CHANNELS } from '@kiraku/core/notifications';
import { CONFIG, type Config } from '../environment/config.js';
import { SettingsRepository } from '../settings/settings.repository.js';

const NOTIFICATIONS = 'notifications';
const DESK_URL = 'notifications.desk';

/** Which activity notifies, how, and when not. */
@Injectable()
export class NotificationsSettings {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly settings: SettingsRepository,
  ) {}

  view(): NotificationSettingsView {
    const stored = this.settings.get<Partial<NotificationSettingsView>>(NOTIFICATIONS);
    return {
      stay: false,
      quietHours: null,
      zone: 'UTC',
      mutedUntil: null,
      ...stored,
      // A kind that came later begins as it does for everybody.
      channels: { ...DEFAULT_CHANNELS, ...stored?.channels },
    };
  }

  save(part: Partial<NotificationSettingsView>): void {
    this.settings.set(NOTIFICATIONS, { ...this.view(), ...part });
  }

  /** Where the desk is from where it was seen last: a proxy may stand before it. */
  deskUrl(): string {
    return this.settings.get<string>(DESK_URL) ?? `http://${this.config.host}:${this.config.port}`;
  }

  setDeskUrl(url: string): void {
    if (url !== this.deskUrl()) this.settings.set(DESK_URL, url);
  }
}
