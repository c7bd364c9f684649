import { Injectable } from '@nestjs/common';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import type { SmtpOutcome } from '../delivery/smtp.js';
import { OutgoingServer } from '../delivery/outgoingServer.js';
import { AccountService } from '../settings/account.service.js';

interface Words {
  subject: string;
  text: string;
  /** The same with its links, where it has a form of its own. */
  html?: string | undefined;
  /** The Message-ID that it goes on with. */
  inReplyTo?: string | undefined;
}

/** Writes to the user themself. */
@Injectable()
export class MailToSelf {
  constructor(
    private readonly accounts: AccountService,
    private readonly server: OutgoingServer,
  ) {}

  /** Hands over a mail. Auto-Submitted: no program answers it (RFC 3834, section 5). */
  async send({ subject, text, html, inReplyTo }: Words): Promise<SmtpOutcome> {
    const me = this.accounts.sender();
    const composer = new MailComposer({
      from: { ...me },
      to: { ...me },
      subject,
      text,
      ...(html !== undefined && { html }),
      ...(inReplyTo !== undefined && { inReplyTo, references: [inReplyTo] }),
      headers: { 'Auto-Submitted': 'auto-generated' },
    });
    return this.server.deliver({ from: me.address, to: me.address, raw: await composer.compile().build() });
  }
}
