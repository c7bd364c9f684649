import { Injectable } from '@nestjs/common';
import { ownBrowserPath } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { INVITATIONS_KEY, INVITED_FOR_MS, sha256Of, type Invitation } from './invitations.js';
import { newToken } from './tokens.js';

const MAX_INVITATIONS = 20;

/**
 * Browsers of the sender’s own. The desk gives out an address of the public site that is good for one visit within ten
 * minutes; the visit leaves a sealed mark in the browser, first party, which later visits to the public site carry.
 */
@Injectable()
export class OwnBrowsers {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly clock: Clock,
  ) {}

  /** The path of the public site that marks the browser which visits it. */
  invite(): string {
    const now = this.clock.now();
    const token = newToken();
    const before = this.settings.get<Invitation[]>(INVITATIONS_KEY) ?? [];
    const valid = before.filter(({ madeAt }) => now < madeAt + INVITED_FOR_MS);
    const invitations = [...valid, { sha256: sha256Of(token), madeAt: now }].slice(-MAX_INVITATIONS);
    this.settings.set(INVITATIONS_KEY, invitations);
    return ownBrowserPath(token);
  }
}
