import { Injectable } from '@nestjs/common';
import { AccountService, type SmtpAccess } from '../settings/account.service.js';
import { DkimService } from '../settings/dkim.service.js';
import { SmtpClient, type OutgoingMail, type SingleMail, type SmtpOutcome } from './smtp.js';

/** It may be named later than the first message is written. */
export const NO_SERVER = 'No outgoing mail server is named yet. Name it in Settings, Writing and sending.';

/** Hands mails to the outgoing mail server, by whatever the account says now. */
@Injectable()
export class OutgoingServer {
  private client: { access: string; smtp: SmtpClient } | undefined;

  constructor(
    private readonly accounts: AccountService,
    private readonly dkim: DkimService,
  ) {}

  /** @throws where the account cannot be used: a fault of our own, and no recipient’s */
  async send(mail: OutgoingMail): Promise<SmtpOutcome> {
    if (this.accounts.smtpAccess().host === '') return { kind: 'delayed', words: NO_SERVER };
    return this.smtp().send(mail);
  }

  /** Hands over a mail that lies in no outbox: its writer tries again. */
  deliver({ raw, ...envelope }: SingleMail): Promise<SmtpOutcome> {
    const mail = { own: raw, pieces: null };
    return this.send({ ...envelope, mail, shared: null, dsn: null, receipt: null });
  }

  /** Hangs up in the middle of what is being said. */
  abandon(): void {
    this.client?.smtp.abandon();
  }

  close(): void {
    this.client?.smtp.close();
  }

  private smtp(): SmtpClient {
    const access: SmtpAccess = this.accounts.smtpAccess();
    const dkim = this.dkim.key();
    const key = JSON.stringify([access, dkim]);
    if (this.client?.access !== key) {
      this.client?.smtp.close();
      this.client = { access: key, smtp: new SmtpClient(access, dkim) };
    }
    return this.client.smtp;
  }
}
