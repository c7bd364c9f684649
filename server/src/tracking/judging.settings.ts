import { Injectable } from '@nestjs/common';
import type { JudgingView } from '@kiraku/core/contract';
import { SettingsRepository } from '../settings/settings.repository.js';
import { DEFAULT_JUDGING } from './choices.js';
import { JUDGING_KEY } from './statements.js';

/** How events are judged. The thread that judges, and the public site, read the same row themselves. */
@Injectable()
export class JudgingSettings {
  constructor(private readonly settings: SettingsRepository) {}

  view(): JudgingView {
    return { ...DEFAULT_JUDGING, ...this.settings.get<Partial<JudgingView>>(JUDGING_KEY) };
  }

  save(view: JudgingView): void {
    this.settings.set(JUDGING_KEY, view);
  }
}
