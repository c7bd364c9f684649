import { createHash, randomInt } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import type { AppPasswordView } from '@kiraku/core/contract';
import { Clock } from '../environment/clock.js';
import { AppPasswordsRepository } from './appPasswords.repository.js';

/** No letters or digits that are taken for others. 24 of 31 signs are 118 random bits. */
const SIGNS = 'abcdefghjkmnpqrstuvwxyz23456789';
const GROUPS = 4;
const GROUP_LENGTH = 6;

/** Passwords for mail programs: each made for one program, shown once, and revoked one by one. */
@Injectable()
export class AppPasswords {
  constructor(
    private readonly passwords: AppPasswordsRepository,
    private readonly clock: Clock,
  ) {}

  list(): AppPasswordView[] {
    return this.passwords.list();
  }

  /** Makes a password. This is the only time that it can be read. */
  make(name: string): AppPasswordView & { password: string } {
    const group = () => Array.from({ length: GROUP_LENGTH }, () => SIGNS[randomInt(SIGNS.length)]).join('');
    const password = Array.from({ length: GROUPS }, group).join('-');
    return { ...this.add(name, password), password };
  }

  /** Takes a password that was chosen elsewhere: the demo's is known to everybody. */
  add(name: string, password: string): AppPasswordView {
    return this.passwords.add(name, hashOf(password), this.clock.now());
  }

  remove(id: number): boolean {
    return this.passwords.remove(id);
  }

  /**
   * Whether a password is one of them, and notes that it was used. It is looked up by its hash: what a guesser could
   * learn from the time that takes is about the hash, which tells nothing of the password.
   */
  use(password: string): boolean {
    return this.passwords.use(hashOf(password), this.clock.now());
  }
}

function hashOf(password: string): string {
  return createHash('sha256').update(password).digest('base64url');
}
