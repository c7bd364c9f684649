import { Injectable } from '@nestjs/common';
import type { SetUpStep } from '@kiraku/core/contract';
import { SettingsRepository } from '../settings/settings.repository.js';

const SET_UP_STEP = 'setUp.step';

/** How far set-up has come, so that it goes on later where it was left. */
@Injectable()
export class SetUpSettings {
  constructor(private readonly settings: SettingsRepository) {}

  /** Null where it is over. */
  step(): SetUpStep | null {
    return this.settings.get<SetUpStep>(SET_UP_STEP) ?? null;
  }

  setStep(step: SetUpStep | null): void {
    if (step === null) this.settings.remove(SET_UP_STEP);
    else this.settings.set(SET_UP_STEP, step);
  }
}
