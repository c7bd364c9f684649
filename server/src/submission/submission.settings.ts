import { Injectable } from '@nestjs/common';
import { SettingsRepository } from '../settings/settings.repository.js';

const ADDRESSES = 'submission.addresses';

/** Who may be named as the sender of what is submitted. */
@Injectable()
export class SubmissionSettings {
  constructor(private readonly settings: SettingsRepository) {}

  /** Sender addresses that are allowed besides the account's own. */
  addresses(): string[] {
    return this.settings.get<string[]>(ADDRESSES) ?? [];
  }

  setAddresses(addresses: string[]): void {
    this.settings.set(ADDRESSES, addresses);
  }
}
