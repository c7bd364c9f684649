import { Injectable } from '@nestjs/common';
import type { AccountView, Mailbox, SmtpAuth, SmtpSecurity } from '@kiraku/core/contract';
import { addressProblem } from '@kiraku/core/message';
import { invalid } from '../http/problem.js';
import type { AccountDto } from './account.dto.js';
import { Secrets } from './secrets.js';
import { SettingsRepository } from './settings.repository.js';

/** How mail leaves: what the outbox needs to reach the outgoing server. */
export interface SmtpAccess {
  host: string;
  port: number;
  security: SmtpSecurity;
  user: string;
  auth: SmtpAuth;
  /** The password, or the token for XOAUTH2. */
  password: string | null;
}

/** What the account is saved from; a login is by password where nothing is said. */
export type AccountInput = Omit<AccountDto, 'smtpAuth'> & Partial<Pick<AccountDto, 'smtpAuth'>>;

@Injectable()
export class AccountService {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
  ) {}

  view(): AccountView | null {
    const row = this.settings.account();
    if (!row) return null;
    const { name, address, smtpHost, smtpPort, smtpSecurity, smtpUser, smtpAuth } = row;
    return {
      name,
      address,
      smtpHost,
      smtpPort,
      smtpSecurity,
      smtpUser,
      smtpAuth,
      hasSmtpPassword: row.smtpPasswordSealed !== null,
    };
  }

  save(dto: AccountInput): AccountView {
    const problem = addressProblem(dto.address);
    if (problem) throw invalid(problem, [{ field: 'address', message: problem }]);
    const { smtpPassword, ...fields } = dto;
    const before = this.settings.account()?.smtpPasswordSealed ?? null;
    const sealed = smtpPassword === undefined ? before : this.secrets.seal(smtpPassword);
    this.settings.saveAccount({
      smtpAuth: 'password',
      ...fields,
      smtpPasswordSealed: fields.smtpUser === '' ? null : sealed,
    });
    return this.view()!;
  }

  /** The way out as it would be with these settings, which need not be saved yet. */
  accessWith(dto: AccountDto): SmtpAccess {
    const stored = this.settings.account()?.smtpPasswordSealed ?? null;
    const { smtpHost: host, smtpPort: port, smtpSecurity: security, smtpUser: user, smtpAuth: auth } = dto;
    return {
      host,
      port,
      security,
      user,
      auth,
      password: dto.smtpPassword ?? (stored === null ? null : this.secrets.open(stored)),
    };
  }

  /** The sender's mailbox. Throws a problem before set-up. */
  sender(): Mailbox {
    const { name, address } = this.row();
    return { name, address };
  }

  smtpAccess(): SmtpAccess {
    const row = this.row();
    return {
      host: row.smtpHost,
      port: row.smtpPort,
      security: row.smtpSecurity,
      user: row.smtpUser,
      auth: row.smtpAuth,
      password: row.smtpPasswordSealed === null ? null : this.secrets.open(row.smtpPasswordSealed),
    };
  }

  private row() {
    const row = this.settings.account();
    if (!row) throw invalid('Say first who you are and how your mail goes out, in the settings.');
    return row;
  }
}
