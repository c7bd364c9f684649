import { Injectable } from '@nestjs/common';
import { MINUTE } from '@kiraku/core/time';
import { ownBrowserPath } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { Secrets } from '../settings/secrets.js';
import { newToken } from './tokens.js';

const VALID_MS = 10 * MINUTE;
const MAX_INVITATIONS = 20;
const OWN_DEVICE_MARK = 'own browser';

/** The cookie by which the public site knows the sender’s own browsers. No recipient ever gets one. */
export const OWN_DEVICE_COOKIE = 'kiraku_mine';

/**
 * Browsers of the sender’s own. The desk gives out an address of the public site that is good for one visit within ten
 * minutes; the visit leaves a sealed mark in the browser, first party, which later visits to the public site carry.
 */
@Injectable()
export class OwnBrowsers {
  private readonly open = new Map<string, number>();

  constructor(
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  /** The path of the public site that marks the browser which visits it. */
  invite(): string {
    for (const token of [...this.open.keys()].slice(0, -MAX_INVITATIONS)) this.open.delete(token);
    const token = newToken();
    this.open.set(token, this.clock.now() + VALID_MS);
    return ownBrowserPath(token);
  }

  /** The mark for who comes with an address that was given out; null where it was not, or is used up. */
  accept(token: string): string | null {
    const validUntil = this.open.get(token) ?? 0;
    this.open.delete(token);
    return this.clock.now() < validUntil ? this.secrets.seal(OWN_DEVICE_MARK) : null;
  }

  /** Whether a request’s Cookie header carries a mark of ours. */
  isMarked(cookie: string | undefined): boolean {
    const mark = cookie && new RegExp(`(?:^|;\\s*)${OWN_DEVICE_COOKIE}=([\\w-]+)`).exec(cookie)?.[1];
    if (!mark) return false;
    try {
      return this.secrets.open(mark) === OWN_DEVICE_MARK;
    } catch {
      return false;
    }
  }
}
