import type { Clock } from '../environment/clock.js';
import type { Secrets } from '../settings/secrets.js';
import { INVITED_FOR_MS, sha256Of, type Invitation } from '../tracking/invitations.js';

const OWN_DEVICE_MARK = 'own browser';

/** The cookie by which the public site knows the sender’s own browsers. No recipient ever gets one. */
export const OWN_DEVICE_COOKIE = 'kiraku_mine';

/** Gives browsers that were invited their mark, and knows them by it. */
export class OwnBrowserMarks {
  private readonly startedAt: number;
  private readonly used = new Set<string>();

  constructor(
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {
    this.startedAt = clock.now();
  }

  /**
   * The mark for who comes with an address that was given out; null where it was not, or is used up. Which are used is not
   * known of the time before this process began: those are not good any more.
   */
  accept(token: string, invitations: readonly Invitation[]): string | null {
    const sha256 = sha256Of(token);
    const madeAt = invitations.find((one) => one.sha256 === sha256)?.madeAt ?? -Infinity;
    const isGood = madeAt >= this.startedAt && this.clock.now() < madeAt + INVITED_FOR_MS && !this.used.has(sha256);
    if (!isGood) return null;
    this.used.add(sha256);
    return this.secrets.seal(OWN_DEVICE_MARK);
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
