import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../clock.js';
import { ProblemException } from '../http/problem.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { hashPassphrase, isPassphrase } from './passphrase.js';
import { SessionRepository } from './session.repository.js';

export const SESSION_LENGTH_MS = 30 * DAY;
const PASSPHRASE = 'passphrase';
const ATTEMPTS = { points: 8, duration: 60 };

/** Who may sit at the desk: one passphrase, and the sessions that were opened with it. */
@Injectable()
export class SessionService {
  /** Per address, so that a guesser elsewhere does not lock the owner out. */
  private readonly attempts = new RateLimiterMemory(ATTEMPTS);
  /** Asked for at the first start, so that nobody else on the machine sets Kiraku up. Printed on the terminal. */
  readonly setUpCode = randomBytes(9).toString('base64url');

  constructor(
    private readonly settings: SettingsRepository,
    private readonly sessions: SessionRepository,
    private readonly clock: Clock,
  ) {}

  isSetUp(): boolean {
    return this.settings.get<string>(PASSPHRASE) !== undefined;
  }

  async choosePassphrase(passphrase: string): Promise<void> {
    this.settings.set(PASSPHRASE, await hashPassphrase(passphrase));
  }

  /** Refuses a set-up that does not know the code, or comes second. */
  async checkSetUp(code: string, from: string): Promise<void> {
    if (this.isSetUp())
      throw new ProblemException(409, 'Set up already', 'Sign in with the passphrase that was chosen.');
    await this.countAttempt(from);
    const given = createHash('sha256').update(code).digest();
    if (!timingSafeEqual(given, createHash('sha256').update(this.setUpCode).digest()))
      throw new ProblemException(
        403,
        'Wrong code',
        'Open the address that Kiraku printed on the terminal when it started.',
      );
  }

  /** Checks the passphrase and opens a session. Returns the token for the cookie. */
  async signIn(passphrase: string, from: string): Promise<string> {
    const stored = this.settings.get<string>(PASSPHRASE);
    if (stored === undefined) throw new ProblemException(409, 'Not set up yet', 'Choose a passphrase first.');
    await this.countAttempt(from);
    if (!(await isPassphrase(passphrase, stored)))
      throw new ProblemException(
        401,
        'Not signed in',
        'This is not the passphrase. Mind capitals and blanks, and try again.',
      );
    await this.attempts.delete(from);
    return this.open();
  }

  open(): string {
    const token = randomBytes(32).toString('base64url');
    const now = this.clock.now();
    this.sessions.removeExpired(now);
    this.sessions.add({ tokenHash: hashOf(token), createdAt: now, expiresAt: now + SESSION_LENGTH_MS });
    return token;
  }

  isOpen(token: string | undefined): boolean {
    if (!token) return false;
    const expiresAt = this.sessions.expiresAt(hashOf(token));
    return expiresAt !== undefined && expiresAt > this.clock.now();
  }

  signOut(token: string | undefined): void {
    if (token) this.sessions.remove(hashOf(token));
  }

  private async countAttempt(from: string): Promise<void> {
    try {
      await this.attempts.consume(from);
    } catch (refusal) {
      if (!(refusal instanceof RateLimiterRes)) throw refusal;
      const seconds = Math.ceil(refusal.msBeforeNext / 1000);
      throw new ProblemException(429, 'Too many attempts', `Wait ${seconds} seconds, then try again.`);
    }
  }
}

function hashOf(token: string): string {
  return createHash('sha256').update(token).digest('base64url');
}
