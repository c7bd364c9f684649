import { Injectable } from '@nestjs/common';
import type { SummarySettings as View } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { SettingsRepository } from '../settings/settings.repository.js';

const SUMMARY = 'summary';
const EMAILED = 'summary.emailed';
const CHOSEN = 'summary.chosen';

const DEFAULTS: View = { weekdays: [], time: '08:00', zone: 'UTC', evenIfEmpty: false };

/** When the summary is emailed, and up to when it has been. */
@Injectable()
export class SummarySettings {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly clock: Clock,
  ) {}

  view(): View {
    return { ...DEFAULTS, ...this.settings.get<View>(SUMMARY) };
  }

  save(view: View): void {
    this.settings.set(SUMMARY, view);
    this.settings.set(CHOSEN, this.clock.now());
  }

  /** Whether one that was due at a time is still to be emailed: none has been since, and its time was chosen before. */
  isDue(at: number): boolean {
    return at > Math.max(this.settings.get<number>(CHOSEN) ?? Infinity, this.emailedAt() ?? 0);
  }

  /** When the last one was made that was emailed, or left out as there was nothing to say; null for none yet. */
  emailedAt(): number | null {
    return this.settings.get<number>(EMAILED) ?? null;
  }

  setEmailed(at: number): void {
    this.settings.set(EMAILED, at);
  }
}
