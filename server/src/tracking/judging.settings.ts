import { Injectable } from '@nestjs/common';
import type { JudgingView } from '@kiraku/core/contract';
import { SettingsRepository } from '../settings/settings.repository.js';
import type { Network } from '@kiraku/core/tracking';
import { JUDGING_AT_FIRST, JUDGING_KEY, networksFrom } from './choices.js';

/** How looks are judged. The thread that judges reads the same row before each group of hits. */
@Injectable()
export class JudgingSettings {
  private proxiesRead: Network[] | undefined;

  constructor(private readonly settings: SettingsRepository) {}

  view(): JudgingView {
    return { ...JUDGING_AT_FIRST, ...this.settings.get<Partial<JudgingView>>(JUDGING_KEY) };
  }

  save(view: JudgingView): void {
    this.settings.set(JUDGING_KEY, view);
    this.proxiesRead = undefined;
  }

  /** Proxies that are believed; asked at each hit. */
  proxies(): Network[] {
    return (this.proxiesRead ??= networksFrom(this.view().proxies));
  }
}
