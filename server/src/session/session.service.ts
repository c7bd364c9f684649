import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { RateLimiterMemory, RateLimiterRes } from 'rate-limiter-flexible';
import { Subject } from 'rxjs';
import type { OpenSession, SignInRequest } from '@kiraku/core/contract';
import { DAY, MINUTE } from '@kiraku/core/time';
import { describeAgent, networkOf } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { invalid, notFound, ProblemException } from '../http/problem.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { Codes } from './codes.js';
import { hashPassphrase, isPassphrase } from './passphrase.js';
import { passphraseProblem } from './passphraseStrength.js';
import { SessionRepository } from './session.repository.js';
import { OneAtATime, TooManyWaitingError } from './oneAtATime.js';

export const MAX_SESSION_MS = 30 * DAY;
/** One that nobody has used for so long ends. */
const MAX_SESSION_IDLE_MS = 14 * DAY;
/** Written down no more often than this. */
const SEEN_EVERY_MS = 5 * MINUTE;
/** Where the hash of the passphrase stands among the settings. */
export const PASSPHRASE_KEY = 'passphrase';
/** Of one address: a guesser elsewhere does not lock the owner out. */
const MAX_ATTEMPTS_OF_ONE = { points: 8, duration: 60 };
/** Of all together: addresses are cheap. */
const MAX_ATTEMPTS_OF_ALL = { points: 100, duration: 10 * 60 };
/** Each hash takes a third of a second, and 128 MB. */
const MAX_HASHES_WAITING = 8;
/** Of what a browser says of itself. */
const MAX_USER_AGENT_CHARS = 400;
/** Enough of a token's hash to name a session by, and too little to say anything of the token. */
const ID_CHARS = 16;

/** Who may sit at the desk: one passphrase, and the sessions that were opened with it. */
@Injectable()
export class SessionService {
  private readonly attemptsOfOne = new RateLimiterMemory(MAX_ATTEMPTS_OF_ONE);
  private readonly attemptsOfAll = new RateLimiterMemory(MAX_ATTEMPTS_OF_ALL);
  private readonly hashing = new OneAtATime(MAX_HASHES_WAITING);
  private readonly endings = new Subject<void>();
  /** Fires when sessions have ended; look whether one's own is still open. */
  readonly ended = this.endings.asObservable();
  /** Asked for at the first start, so that nobody else on the machine sets Kiraku up. Printed on the terminal. */
  readonly setUpCode = randomBytes(9).toString('base64url');

  constructor(
    private readonly settings: SettingsRepository,
    private readonly sessions: SessionRepository,
    private readonly codes: Codes,
    private readonly clock: Clock,
  ) {}

  isSetUp(): boolean {
    return this.settings.get<string>(PASSPHRASE_KEY) !== undefined;
  }

  async choosePassphrase(passphrase: string): Promise<void> {
    this.settings.set(PASSPHRASE_KEY, await this.hashed(() => hashPassphrase(passphrase)));
  }

  /**
   * Says whether a passphrase may be chosen.
   *
   * @param own what a guesser who knows the user tries first
   * @throws 422 where it is too easy to guess
   */
  async checkStrength(passphrase: string, own: readonly string[]): Promise<void> {
    const problem = await passphraseProblem(passphrase, own);
    if (problem) throw invalid(problem, [{ field: 'passphrase', message: problem }]);
  }

  /**
   * Changes the passphrase, and ends all sessions but one.
   *
   * @param token of the session that stays
   */
  async changePassphrase(current: string, next: string, token: string, from: string): Promise<void> {
    await this.checkPassphrase(current, from);
    await this.choosePassphrase(next);
    this.sessions.removeAllBut(hashOf(token));
    this.endings.next();
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

  /** Checks the passphrase, and the code where one is asked for, and opens a session. Returns the token for the cookie. */
  async signIn({ passphrase, code }: SignInRequest, from: string, userAgent: string): Promise<string> {
    await this.checkPassphrase(passphrase, from, () => this.codes.take(code));
    return this.open(userAgent);
  }

  /** Opens a session for whoever passes another check than the passphrase. Returns the token for the cookie. */
  async signInBy(check: () => Promise<void>, from: string, userAgent: string): Promise<string> {
    await this.countAttempt(from);
    await check();
    await this.attemptsOfOne.delete(networkOf(from));
    return this.open(userAgent);
  }

  /**
   * Refuses what nobody but the owner may do, also in a browser that was left signed in.
   *
   * @throws 401 where it is not the passphrase
   */
  async confirm(passphrase: string, from: string): Promise<void> {
    await this.checkPassphrase(passphrase, from);
  }

  open(userAgent = ''): string {
    const token = randomBytes(32).toString('base64url');
    const now = this.clock.now();
    this.sessions.removeEnded(now, now - MAX_SESSION_IDLE_MS);
    this.sessions.add({
      tokenHash: hashOf(token),
      createdAt: now,
      expiresAt: now + MAX_SESSION_MS,
      lastSeenAt: now,
      userAgent: userAgent.slice(0, MAX_USER_AGENT_CHARS),
    });
    return token;
  }

  isOpen(token: string | undefined): boolean {
    return this.find(token) !== undefined;
  }

  /** Whether a session is open, and notes that it was used. */
  use(token: string | undefined): boolean {
    const found = this.find(token);
    if (!found) return false;
    const now = this.clock.now();
    if (now - found.lastSeenAt > SEEN_EVERY_MS) this.sessions.seen(found.tokenHash, now);
    return true;
  }

  /** Where somebody is signed in, the last used first. */
  list(token: string | undefined): OpenSession[] {
    const current = token && hashOf(token);
    const now = this.clock.now();
    return this.sessions.list(now, now - MAX_SESSION_IDLE_MS).map(({ tokenHash, createdAt, lastSeenAt, userAgent }) => {
      const { device, system, program } = describeAgent(userAgent);
      const id = tokenHash.slice(0, ID_CHARS);
      return { id, createdAt, lastSeenAt, device, system, program, isThis: tokenHash === current };
    });
  }

  signOut(token: string | undefined): void {
    if (token) this.sessions.remove(hashOf(token));
    this.endings.next();
  }

  /** @param id as {@link list} names it */
  end(id: string): void {
    const found = this.list(undefined).find((one) => one.id === id);
    if (!found) throw notFound('session');
    this.sessions.removeByPrefix(id);
    this.endings.next();
  }

  endAll(): void {
    this.sessions.removeAll();
    this.endings.next();
  }

  private find(token: string | undefined) {
    const row = token ? this.sessions.find(hashOf(token)) : undefined;
    const now = this.clock.now();
    return row && row.expiresAt > now && row.lastSeenAt > now - MAX_SESSION_IDLE_MS ? row : undefined;
  }

  private async checkPassphrase(passphrase: string, from: string, alsoCheck?: () => void): Promise<void> {
    const stored = this.settings.get<string>(PASSPHRASE_KEY);
    if (stored === undefined) throw new ProblemException(409, 'Not set up yet', 'Choose a passphrase first.');
    await this.countAttempt(from);
    if (!(await this.hashed(() => isPassphrase(passphrase, stored))))
      throw new ProblemException(
        401,
        'Wrong passphrase',
        'This is not the passphrase. Check capitals and spaces, and try again.',
      );
    alsoCheck?.();
    await this.attemptsOfOne.delete(networkOf(from));
  }

  private async hashed<T>(work: () => Promise<T>): Promise<T> {
    try {
      return await this.hashing.run(work);
    } catch (error) {
      if (!(error instanceof TooManyWaitingError)) throw error;
      throw new ProblemException(429, 'Too many attempts', 'Wait some seconds, then try again.');
    }
  }

  private async countAttempt(from: string): Promise<void> {
    try {
      await this.attemptsOfOne.consume(networkOf(from));
      await this.attemptsOfAll.consume('all');
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
