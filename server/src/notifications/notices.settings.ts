import { Inject, Injectable } from '@nestjs/common';
import type { NoticesView } from '@kiraku/core/contract';
import { RINGS_AT_FIRST } from '@kiraku/core/notifications';
import { CONFIG, type Config } from '../config.js';
import { SettingsRepository } from '../settings/settings.repository.js';

const NOTICES = 'notices';
const DESK_URL = 'notices.desk';

/** What is told, how, and when not. */
@Injectable()
export class NoticesSettings {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly settings: SettingsRepository,
  ) {}

  view(): NoticesView {
    const stored = this.settings.get<Partial<NoticesView>>(NOTICES);
    return {
      ...{ stay: false, quietHours: null, zone: 'UTC', quietUntil: null },
      ...stored,
      // A kind that came later begins as it does for everybody.
      rings: { ...RINGS_AT_FIRST, ...stored?.rings },
    };
  }

  save(part: Partial<NoticesView>): void {
    this.settings.set(NOTICES, { ...this.view(), ...part });
  }

  /** Where the desk is from where it was seen last: a proxy may stand before it. */
  deskUrl(): string {
    return this.settings.get<string>(DESK_URL) ?? `http://${this.config.host}:${this.config.port}`;
  }

  setDeskUrl(url: string): void {
    if (url !== this.deskUrl()) this.settings.set(DESK_URL, url);
  }
}
