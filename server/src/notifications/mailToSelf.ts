import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import type { Mailbox } from '@kiraku/core/contract';
import type { SingleMail } from '../delivery/smtp.js';

interface Words {
  subject: string;
  text: string;
  /** The Message-ID that it goes on with. */
  inReplyTo?: string | undefined;
}

/** A mail from the user to themself. Auto-Submitted: no program answers it (RFC 3834, section 5). */
export async function mailToSelf(me: Mailbox, { subject, text, inReplyTo }: Words): Promise<SingleMail> {
  const composer = new MailComposer({
    from: { ...me },
    to: { ...me },
    subject,
    text,
    ...(inReplyTo !== undefined && { inReplyTo, references: [inReplyTo] }),
    headers: { 'Auto-Submitted': 'auto-generated' },
  });
  return { from: me.address, to: me.address, raw: await composer.compile().build() };
}
