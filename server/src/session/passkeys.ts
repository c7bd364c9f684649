import { randomBytes, timingSafeEqual } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type {
  AuthenticationResponseJSON,
  AuthenticatorTransport,
  RegistrationResponseJSON,
} from '@simplewebauthn/server';
import type { PasskeyView } from '@kiraku/core/contract';
import { MINUTE } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { invalid, notFound, ProblemException } from '../http/problem.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';

/** Where they stand among the settings. */
export const PASSKEYS_KEY = 'session.passkeys';
const MAX_PASSKEYS = 20;
/** So long one may take with one's phone or key. */
const CHALLENGE_MS = 5 * MINUTE;

interface Stored extends PasskeyView {
  /** COSE (RFC 9052), in base64url. */
  publicKey: string;
  /** How often it has signed, as far as it counts. */
  counter: number;
  transports: AuthenticatorTransport[];
}

/** Where a browser asks from: the name that a passkey is bound to, and its whole origin. */
export interface Place {
  host: string;
  origin: string;
}

/**
 * Passkeys, which sign in instead of passphrase and code: the device has looked at its owner itself (Web Authentication,
 * level 3). They are bound to the name by which the desk is reached, so that no other page can ask for one.
 */
@Injectable()
export class Passkeys {
  /** Challenges that have been used, until they would not be good any more. */
  private readonly used = new Map<string, number>();

  constructor(
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  list(): PasskeyView[] {
    return this.stored().map(({ id, name, host, createdAt, lastUsedAt }) => ({
      id,
      name,
      host,
      createdAt,
      lastUsedAt,
    }));
  }

  /** Whether there is one that is good at a name. */
  isThere(host: string): boolean {
    return this.stored().some((one) => one.host === host);
  }

  /** What a browser is asked with that is to make one. */
  async begin({ host }: Place, user: string): Promise<object> {
    if (this.stored().length >= MAX_PASSKEYS) throw invalid(`There are ${MAX_PASSKEYS} passkeys. Remove one first.`);
    const { generateRegistrationOptions } = await library();
    return generateRegistrationOptions({
      rpName: 'Kiraku',
      rpID: host,
      userName: user,
      challenge: this.challenge(`add ${host}`),
      attestationType: 'none',
      excludeCredentials: this.stored()
        .filter((one) => one.host === host)
        .map(({ id, transports }) => ({ id, transports })),
      authenticatorSelection: { residentKey: 'required', userVerification: 'required' },
    });
  }

  /**
   * Takes a passkey that a browser has made.
   *
   * @throws 422 where it was not made for this desk, or just now
   */
  async add(name: string, reply: object, { host, origin }: Place): Promise<void> {
    const { verifyRegistrationResponse } = await library();
    const verified = await verifyRegistrationResponse({
      response: reply as RegistrationResponseJSON,
      expectedChallenge: (challenge) => this.isGood(challenge, `add ${host}`),
      expectedOrigin: origin,
      expectedRPID: host,
      requireUserVerification: true,
    }).catch(() => null);
    if (!verified?.verified) throw invalid('This passkey was not made for this page just now. Try again.');
    const { id, publicKey, counter, transports = [] } = verified.registrationInfo.credential;
    const made: Stored = {
      ...{ id, name, host, createdAt: this.clock.now(), lastUsedAt: null },
      ...{
        publicKey: Buffer.from(publicKey).toString('base64url'),
        counter,
        transports: transports as AuthenticatorTransport[],
      },
    };
    this.save([...this.stored().filter((one) => one.id !== id), made]);
  }

  remove(id: string): void {
    const left = this.stored().filter((one) => one.id !== id);
    if (left.length === this.stored().length) throw notFound('passkey');
    this.save(left);
  }

  /** What a browser is asked with that is to sign in. */
  async ask({ host }: Place): Promise<object> {
    const { generateAuthenticationOptions } = await library();
    const challenge = this.challenge(`sign in ${host}`);
    return generateAuthenticationOptions({ rpID: host, challenge, userVerification: 'required' });
  }

  /**
   * Takes what a browser replies: each challenge is good once.
   *
   * @throws 401 where it is of no passkey of this desk
   */
  async take(reply: object, { host, origin }: Place): Promise<void> {
    const response = reply as AuthenticationResponseJSON;
    const stored = this.stored().find((one) => one.id === response.id && one.host === host);
    const { verifyAuthenticationResponse } = await library();
    const verified =
      stored &&
      (await verifyAuthenticationResponse({
        response,
        expectedChallenge: (challenge) => this.isGood(challenge, `sign in ${host}`),
        expectedOrigin: origin,
        expectedRPID: host,
        credential: { ...stored, publicKey: new Uint8Array(Buffer.from(stored.publicKey, 'base64url')) },
        requireUserVerification: true,
      }).catch(() => null));
    if (!verified?.verified)
      throw new ProblemException(401, 'Not signed in', 'This passkey is not known here. Use your passphrase.');
    const used = { ...stored!, counter: verified.authenticationInfo.newCounter, lastUsedAt: this.clock.now() };
    this.save(this.stored().map((one) => (one.id === used.id ? used : one)));
  }

  /** Nothing is kept of those that nobody uses: what is in it says until when it is good, and that it is of this desk. */
  private challenge(purpose: string): string {
    const said = `${randomBytes(16).toString('base64url')}.${this.clock.now() + CHALLENGE_MS}`;
    return `${said}.${this.secrets.mark(`${purpose} ${said}`)}`;
  }

  private isGood(challenge: string, purpose: string): boolean {
    const now = this.clock.now();
    for (const [one, until] of this.used) if (until <= now) this.used.delete(one);
    const [random = '', until = '', mark = ''] = Buffer.from(challenge, 'base64url').toString().split('.');
    const [given, own] = [mark, this.secrets.mark(`${purpose} ${random}.${until}`)].map((text) => Buffer.from(text));
    const isOurs = given!.length === own!.length && timingSafeEqual(given!, own!);
    if (!isOurs || Number(until) <= now || this.used.has(random)) return false;
    this.used.set(random, Number(until));
    return true;
  }

  private stored(): Stored[] {
    return this.settings.get<Stored[]>(PASSKEYS_KEY) ?? [];
  }

  private save(passkeys: Stored[]): void {
    this.settings.set(PASSKEYS_KEY, passkeys);
  }
}

/** Loaded when it is needed, which is seldom. */
function library() {
  return import('@simplewebauthn/server');
}
