import { Injectable } from '@nestjs/common';
import type { MailboxView } from '@kiraku/core/contract';
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

const AT_FIRST: Stored = {
  ...{ way: 'none', host: '', port: 993, security: 'tls', user: '', sealed: null },
  ...{ folders: [], storesSent: false },
};

/** Where answers come from. */
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

  save({ password, ...view }: MailboxDto): void {
    const sealed = password === undefined ? this.stored().sealed : this.secrets.seal(password);
    this.settings.set(MAILBOX, { ...view, sealed } satisfies Stored);
  }

  access(): ImapAccess {
    return this.accessWith(this.stored());
  }

  /** As it would be with settings that need not be saved yet. */
  accessWith(view: Omit<ImapAccess, 'password'> & { password?: string | undefined }): ImapAccess {
    const { host, port, security, user } = view;
    const { sealed } = this.stored();
    const password = view.password ?? (sealed === null ? '' : this.secrets.open(sealed));
    return { host, port, security, user, password };
  }

  private stored(): Stored {
    return { ...AT_FIRST, ...this.settings.get<Partial<Stored>>(MAILBOX) };
  }
}
