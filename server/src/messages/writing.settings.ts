import { Injectable } from '@nestjs/common';
import type { WritingDefaults } from '@kiraku/core/contract';
import { DISCLOSURE } from '@kiraku/core/message';
import { SettingsRepository } from '../settings/settings.repository.js';

const DEFAULTS = 'writing.defaults';

const AT_FIRST: WritingDefaults = {
  trackOpens: true,
  trackLinks: true,
  disclose: false,
  deliveryReceipt: false,
  readReceipt: false,
  signatureId: null,
  disclosure: DISCLOSURE,
};

/** What new messages begin with. */
@Injectable()
export class WritingSettings {
  constructor(private readonly settings: SettingsRepository) {}

  defaults(): WritingDefaults {
    return { ...AT_FIRST, ...this.settings.get<Partial<WritingDefaults>>(DEFAULTS) };
  }

  setDefaults(defaults: WritingDefaults): void {
    this.settings.set(DEFAULTS, defaults);
  }
}
