import { createHash, randomInt } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { Secret, TOTP } from 'otpauth';
import type { CodesSecret, CodesView, RecoveryCodes } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { invalid, ProblemException } from '../http/problem.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';

/** Where they stand among the settings. */
export const CODES_KEY = 'session.codes';
const PENDING_KEY = 'session.codes.pending';
const TOTP_SECRET_BYTES = 20;
/** The clock of a phone may be as far off, in steps of half a minute (RFC 6238, section 5.2). */
const WINDOW = 1;
const RECOVERY_CODES = 10;
/** Without what is mistaken for something else. */
const RECOVERY_LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';
const RECOVERY_CHARS = 10;

interface Stored {
  sealedSecret: string;
  /** The step of the last code that was used: none is good twice (RFC 6238, section 5.2). */
  lastStep: number;
  /** SHA-256 of those that have not been used. */
  recoveryHashes: string[];
}

/** Codes from the phone that are asked for besides the passphrase, by the time (TOTP, RFC 6238). */
@Injectable()
export class Codes {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
    private readonly clock: Clock,
  ) {}

  view(): CodesView {
    const stored = this.stored();
    return { isOn: stored !== undefined, recoveryCodesLeft: stored?.recoveryHashes.length ?? 0 };
  }

  /** A secret for the phone: asked for from when a code of it has been given. */
  begin(address: string): CodesSecret {
    const secret = new Secret({ size: TOTP_SECRET_BYTES });
    this.settings.set(PENDING_KEY, this.secrets.seal(secret.base32));
    return { secret: secret.base32, uri: totpOf(secret.base32, address).toString() };
  }

  /**
   * Asks for codes from now on.
   *
   * @throws 422 where the phone shows another
   */
  confirm(code: string): RecoveryCodes {
    const sealedSecret = this.settings.get<string>(PENDING_KEY);
    if (sealedSecret === undefined) throw invalid('Begin again: there is no secret to be confirmed.');
    const step = this.stepOf(sealedSecret, code, -1);
    if (step === null)
      throw invalid('This is not the code that belongs to it.', [
        { field: 'code', message: 'Type the code that your phone shows now, and check that its clock is right.' },
      ]);
    const codes = Array.from({ length: RECOVERY_CODES }, recoveryCode);
    this.save({ sealedSecret, lastStep: step, recoveryHashes: codes.map(hashOf) });
    this.settings.remove(PENDING_KEY);
    return { codes };
  }

  turnOff(): void {
    this.settings.remove(CODES_KEY);
  }

  /**
   * Takes a code, where codes are in use: each is good once.
   *
   * @throws 401 where none was given, or it is not good
   */
  take(code: string | undefined): void {
    const stored = this.stored();
    if (!stored) return;
    const given = (code ?? '').replace(/[\s-]/g, '').toLowerCase();
    if (given === '') throw refused('Type the code that your phone shows.');
    const step = this.stepOf(stored.sealedSecret, given, stored.lastStep);
    const left = stored.recoveryHashes.filter((hash) => hash !== hashOf(given));
    if (step !== null) this.save({ ...stored, lastStep: step });
    else if (left.length < stored.recoveryHashes.length) this.save({ ...stored, recoveryHashes: left });
    else throw refused('This code is not good, or was used before. Wait for the next one.');
  }

  private stored(): Stored | undefined {
    return this.settings.get<Stored>(CODES_KEY);
  }

  private save(stored: Stored): void {
    this.settings.set(CODES_KEY, stored);
  }

  /** The step that a code is of, if it is one of now and later than the last. */
  private stepOf(sealedSecret: string, code: string, lastStep: number): number | null {
    const totp = totpOf(this.secrets.open(sealedSecret));
    const timestamp = this.clock.now();
    const delta = /^\d{6}$/.test(code) ? totp.validate({ token: code, timestamp, window: WINDOW }) : null;
    if (delta === null) return null;
    const step = totp.counter({ timestamp }) + delta;
    return step > lastStep ? step : null;
  }
}

function totpOf(secret: string, label = ''): TOTP {
  return new TOTP({ issuer: 'Kiraku', label, secret: Secret.fromBase32(secret) });
}

function recoveryCode(): string {
  return Array.from({ length: RECOVERY_CHARS }, () => RECOVERY_LETTERS[randomInt(RECOVERY_LETTERS.length)]).join('');
}

/** 50 random bits are not guessed at a hundred attempts in ten minutes. */
function hashOf(code: string): string {
  return createHash('sha256').update(code).digest('base64url');
}

function refused(message: string): ProblemException {
  return new ProblemException(401, 'A code is needed', message, [{ field: 'code', message }]);
}
