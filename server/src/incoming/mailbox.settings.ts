import { Injectable } from '@nestjs/common';
import type { MailboxView } from '@kiraku/core/contract';
import { invalid } from '../http/problem.js';
import { PASSWORD_AGAIN } from '../settings/account.service.js';
import { Secrets } from '../settings/secrets.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import type { MailboxDto } from './mailbox.dto.js';

const MAILBOX = 'mailbox';

/** What is kept of it, the password sealed. */
type Stored = Omit<MailboxView, 'hasPassword' | 'lmtpPort' | 'state'> & { sealed: string | null };

/** How the mailbox is reached. */
export interface ImapAccess extends Pick<MailboxView, 'host' | 'port' | 'security' | 'user'> {
  password: string;
}

type Server = Pick<MailboxView, 'host' | 'port' | 'security' | 'user'>;

const DEFAULTS: Stored = {
  way: 'none',
  host: '',
  port: 993,
  security: 'tls',
  user: '',
  sealed: null,
  folders: [],
  storesSent: false,
  unmatched: 'later',
};

/** Where replies come from. */
@Injectable()
export class MailboxSettings {
  constructor(
    private readonly settings: SettingsRepository,
    private readonly secrets: Secrets,
  ) {}

  view(): Omit<MailboxView, 'lmtpPort' | 'state'> {
    const { sealed, ...stored } = this.stored();
    return { ...stored, hasPassword: sealed !== null };
  }

  /** @throws 422 where the stored password is for another server */
  save({ password, unmatched = this.stored().unmatched, ...view }: MailboxDto): void {
    const kept = () => (view.way === 'imap' || this.isSame(view) ? this.sealedFor(view) : null);
    const sealed = password === undefined ? kept() : this.secrets.seal(password);
    this.settings.set(MAILBOX, { ...view, unmatched, sealed } satisfies Stored);
  }

  access(): ImapAccess {
    return this.accessWith(this.stored());
  }

  /** As it would be with settings that need not be saved yet. */
  accessWith(view: Omit<ImapAccess, 'password'> & { password?: string | undefined }): ImapAccess {
    const { host, port, security, user } = view;
    if (view.password !== undefined) return { host, port, security, user, password: view.password };
    const sealed = this.sealedFor(view);
    return { host, port, security, user, password: sealed === null ? '' : this.secrets.open(sealed) };
  }

  /** The stored password, for the server that it was entered for: another one would get to know it. */
  private sealedFor(to: Server): string | null {
    const { sealed } = this.stored();
    if (sealed === null || this.isSame(to)) return sealed;
    throw invalid(PASSWORD_AGAIN, [{ field: 'password', message: PASSWORD_AGAIN }]);
  }

  private isSame({ host, port, security, user }: Server): boolean {
    const stored = this.stored();
    return host === stored.host && port === stored.port && security === stored.security && user === stored.user;
  }

  private stored(): Stored {
    return { ...DEFAULTS, ...this.settings.get<Partial<Stored>>(MAILBOX) };
  }
}
