import { Injectable } from '@nestjs/common';
import type { WritingDefaults } from '@kiraku/core/contract';
import { DISCLOSURE } from '@kiraku/core/message';
import { SettingsRepository } from '../settings/settings.repository.js';

const KEY = 'writing.defaults';

const DEFAULTS: WritingDefaults = {
  trackOpens: true,
  trackClicks: true,
  disclose: false,
  requestDsn: false,
  requestMdn: false,
  signatureId: null,
  disclosure: DISCLOSURE,
};

/** What new messages begin with. */
@Injectable()
export class WritingSettings {
  constructor(private readonly settings: SettingsRepository) {}

  defaults(): WritingDefaults {
    return { ...DEFAULTS, ...this.settings.get<Partial<WritingDefaults>>(KEY) };
  }

  setDefaults(defaults: WritingDefaults): void {
    this.settings.set(KEY, defaults);
  }
}
