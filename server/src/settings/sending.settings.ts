import { Injectable } from '@nestjs/common';
import type { SendingView } from '@kiraku/core/contract';
import { HOUR, SECOND } from '@kiraku/core/time';
import { SettingsRepository } from './settings.repository.js';

const SENDING = 'sending';
const DEFAULTS: SendingView = { undoSendSeconds: 5, giveUpHours: 72 };

/** How messages leave. */
@Injectable()
export class SendingSettings {
  constructor(private readonly settings: SettingsRepository) {}

  view(): SendingView {
    return { ...DEFAULTS, ...this.settings.get<Partial<SendingView>>(SENDING) };
  }

  save(view: Partial<SendingView>): void {
    this.settings.set(SENDING, { ...this.view(), ...view });
  }

  /** For how long after Send a message can be recalled. */
  undoSendMs(): number {
    return this.view().undoSendSeconds * SECOND;
  }

  /** For how long a copy that was refused for now is tried again. */
  giveUpMs(): number {
    return this.view().giveUpHours * HOUR;
  }
}
