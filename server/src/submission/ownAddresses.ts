import { Injectable } from '@nestjs/common';
import { addressKey, withoutTag } from '@kiraku/core/message';
import { AccountService } from '../settings/account.service.js';
import { SubmissionSettings } from './submission.settings.js';

/** The user's addresses: the account's own, those that are allowed besides, and all of these with a tag after a plus sign. */
@Injectable()
export class OwnAddresses {
  constructor(
    private readonly accounts: AccountService,
    private readonly settings: SubmissionSettings,
  ) {}

  /** Those by which mail may be sent, in their form for looking up; none before set-up. */
  keys(): string[] {
    const own = this.accounts.view()?.address;
    return own === undefined ? [] : [own, ...this.settings.addresses()].map(addressKey);
  }

  has(address: string): boolean {
    const key = addressKey(address);
    const keys = this.keys();
    return keys.includes(key) || keys.includes(withoutTag(key));
  }
}
