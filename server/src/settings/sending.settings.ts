import { Injectable } from '@nestjs/common';
import type { SendingView } from '@kiraku/core/contract';
import { HOUR, SECOND } from '@kiraku/core/time';
import { SettingsRepository } from './settings.repository.js';

const SENDING = 'sending';
/** When a backup was restored: what was due until then may have left before. */
const RESTORED_AT = 'restoredAt';
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

  /** What was due before may have left already, and asks; 0 where no backup was ever restored. */
  restoredAt(): number {
    return this.settings.get<number>(RESTORED_AT) ?? 0;
  }

  noteRestored(at: number): void {
    this.settings.set(RESTORED_AT, at);
  }

  /** For how long a copy that was refused for now is tried again. */
  giveUpMs(): number {
    return this.view().giveUpHours * HOUR;
  }
}
