import { Injectable } from '@nestjs/common';
import type { SummarySettings as View } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { SettingsRepository } from '../settings/settings.repository.js';

const SUMMARY = 'summary';
const EMAILED = 'summary.emailed';

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

  /** What was due before is not made up for. */
  save(view: View): void {
    this.settings.set(SUMMARY, view);
    this.setEmailed(this.clock.now());
  }

  /** The time for which the last one was emailed; null for none yet. */
  emailedAt(): number | null {
    return this.settings.get<number>(EMAILED) ?? null;
  }

  setEmailed(at: number): void {
    this.settings.set(EMAILED, at);
  }
}
