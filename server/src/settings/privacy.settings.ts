import { Injectable } from '@nestjs/common';
import type { PrivacyView } from '@kiraku/core/contract';
import { SettingsRepository } from './settings.repository.js';

const PRIVACY = 'privacy';
const DEFAULTS: PrivacyView = { forgetReadersDays: 365, forgetEventsDays: null, untrackedDomains: [] };

@Injectable()
export class PrivacySettings {
  constructor(private readonly settings: SettingsRepository) {}

  view(): PrivacyView {
    return { ...DEFAULTS, ...this.settings.get<Partial<PrivacyView>>(PRIVACY) };
  }

  save(view: PrivacyView): void {
    this.settings.set(PRIVACY, view);
  }
}
