import { Injectable } from '@nestjs/common';
import type { TimeFormatView } from '@kiraku/core/contract';
import { setTimeFormat } from '@kiraku/core/time';
import { SettingsRepository } from './settings.repository.js';

const KEY = 'timeFormat';

/** How the user reads times and dates: the page says it, and emails to the user follow it. */
@Injectable()
export class TimeFormatSettings {
  constructor(private readonly settings: SettingsRepository) {
    const view = this.view();
    if (view) setTimeFormat(view);
  }

  /** Null until a browser has said it. */
  view(): TimeFormatView | null {
    return this.settings.get<TimeFormatView>(KEY) ?? null;
  }

  save(view: TimeFormatView): void {
    this.settings.set(KEY, view);
    setTimeFormat(view);
  }
}
