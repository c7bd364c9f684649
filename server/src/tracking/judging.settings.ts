import { Injectable } from '@nestjs/common';
import type { JudgingView } from '@kiraku/core/contract';
import { SettingsRepository } from '../settings/settings.repository.js';
import type { Network } from '@kiraku/core/tracking';
import { DEFAULT_JUDGING, networksFrom } from './choices.js';
import { JUDGING_KEY } from './statements.js';

/** How events are judged. The thread that judges reads the same row before each group of hits. */
@Injectable()
export class JudgingSettings {
  private proxiesRead: Network[] | undefined;

  constructor(private readonly settings: SettingsRepository) {}

  view(): JudgingView {
    return { ...DEFAULT_JUDGING, ...this.settings.get<Partial<JudgingView>>(JUDGING_KEY) };
  }

  save(view: JudgingView): void {
    this.settings.set(JUDGING_KEY, view);
    this.proxiesRead = undefined;
  }

  /** Trusted proxies; asked at each hit. */
  proxies(): Network[] {
    return (this.proxiesRead ??= networksFrom(this.view().proxies));
  }
}
