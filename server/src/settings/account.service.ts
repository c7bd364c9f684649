import { Inject, Injectable } from '@nestjs/common';
import type { AccountView, Mailbox, SmtpAuth, SmtpSecurity } from '@kiraku/core/contract';
import { addressProblem } from '@kiraku/core/message';
import { CONFIG, type Config } from '../environment/config.js';
import { invalid } from '../http/problem.js';
import type { AccountDto } from './account.dto.js';
import { ehloName } from './ehloName.js';
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
  /** By what name the server is greeted. */
  ehloName: string;
}

/** A stored password is sent to no server but the one that it was entered for. */
export const PASSWORD_AGAIN =
  'The server, the connection or the user name has changed. Enter the password again: the stored one is only for the server it was entered for.';

/** What the account is saved from; a login is by password where nothing is said. */
export type AccountInput = Omit<AccountDto, 'smtpAuth'> & Partial<Pick<AccountDto, 'smtpAuth'>>;

@Injectable()
export class AccountService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
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
    const sealed = smtpPassword === undefined ? this.sealedFor(fields) : this.secrets.seal(smtpPassword);
    this.settings.saveAccount({
      smtpAuth: 'password',
      ...fields,
      smtpPasswordSealed: fields.smtpUser === '' ? null : sealed,
    });
    return this.view()!;
  }

  /** The way out as it would be with these settings, which need not be saved yet. */
  accessWith(dto: AccountDto): SmtpAccess {
    const stored = dto.smtpPassword === undefined ? this.sealedFor(dto) : null;
    const { smtpHost: host, smtpPort: port, smtpSecurity: security, smtpUser: user, smtpAuth: auth } = dto;
    return {
      host,
      port,
      security,
      user,
      auth,
      ehloName: ehloName(this.config.publicUrl, dto.address),
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
      ehloName: ehloName(this.config.publicUrl, row.address),
      password: row.smtpPasswordSealed === null ? null : this.secrets.open(row.smtpPasswordSealed),
    };
  }

  /**
   * The stored password, for the server that it was entered for: another one would get to know it.
   *
   * @throws 422 where the server, the connection or the user is another
   */
  private sealedFor(to: Pick<AccountDto, 'smtpHost' | 'smtpPort' | 'smtpSecurity' | 'smtpUser'>): string | null {
    const row = this.settings.account();
    if (!row?.smtpPasswordSealed || to.smtpUser === '') return null;
    const isSame =
      to.smtpHost === row.smtpHost &&
      to.smtpPort === row.smtpPort &&
      to.smtpSecurity === row.smtpSecurity &&
      to.smtpUser === row.smtpUser;
    if (isSame) return row.smtpPasswordSealed;
    throw invalid(PASSWORD_AGAIN, [{ field: 'smtpPassword', message: PASSWORD_AGAIN }]);
  }

  private row() {
    const row = this.settings.account();
    if (!row) throw invalid('First enter who you are and your outgoing mail server, in the settings.');
    return row;
  }
}
