import { Injectable } from '@nestjs/common';
import webpush from 'web-push';
import { AccountService } from '../settings/account.service.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';

const VAPID = 'notifications.vapid';

/** The key pair by which push services know this desk (VAPID, RFC 8292), made when it is first asked for. */
@Injectable()
export class Vapid {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
    private readonly accounts: AccountService,
  ) {}

  /** Who pushes, and the keys, base64url (section 3.2). */
  details(): { subject: string; publicKey: string; privateKey: string } {
    return { subject: `mailto:${this.accounts.sender().address}`, ...this.keys() };
  }

  publicKey(): string {
    return this.keys().publicKey;
  }

  private keys(): { publicKey: string; privateKey: string } {
    const stored = this.settings.get<{ publicKey: string; sealed: string }>(VAPID);
    if (stored) return { publicKey: stored.publicKey, privateKey: this.secrets.open(stored.sealed) };
    const made = webpush.generateVAPIDKeys();
    this.settings.set(VAPID, { publicKey: made.publicKey, sealed: this.secrets.seal(made.privateKey) });
    return made;
  }
}
