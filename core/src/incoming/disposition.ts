import type { Disposition } from '../contract/incoming.js';
import { readFields, typedAddress } from './fields.js';
import { messageIdOf, type ReceivedMail } from './received.js';

/** Word of what became of a mail in its recipient’s program. */
export interface DispositionReport {
  disposition: Disposition;
  about: string[];
  /** By which the recipient is named. */
  addresses: string[];
  words: string;
}

/** “dispatched” and “processed” say that a program dealt with it: nobody may have seen it (RFC 3798, section 3.2.6.2). */
const DISPOSITIONS: Record<string, Disposition> = {
  displayed: 'displayed',
  deleted: 'deleted',
  denied: 'denied',
  failed: 'denied',
  processed: 'processed',
  dispatched: 'processed',
};

const WORDS: Record<Disposition, [override: string, byItself: string]> = {
  displayed: ['Read receipt: it was displayed.', 'Automatic read receipt: it was displayed.'],
  deleted: ['Read receipt: it was deleted, perhaps unread.', 'Automatic read receipt: it was deleted, perhaps unread.'],
  denied: ['They declined to send a read receipt.', 'Their mail app declines read receipts.'],
  processed: ['Read receipt: a program processed it.', 'Automatic read receipt: it was processed.'],
};

/** Reads a message disposition notification (RFC 8098); null for what is none. */
export function readDisposition(mail: ReceivedMail): DispositionReport | null {
  const report = mail.reports.find(({ mediaType }) => /^message\/(global-)?disposition-notification$/.test(mediaType));
  const [fields] = readFields(report?.text.replace(/\n\s*\n/g, '\n') ?? '');
  // “automatic-action/MDN-sent-automatically; displayed/error”
  const [mode = '', type = ''] = (fields?.get('disposition') ?? '').toLowerCase().split(';');
  const disposition = DISPOSITIONS[type.trim().split(/[/,\s]/)[0]!];
  if (!fields || !disposition) return null;
  const named = ['original-recipient', 'final-recipient'].flatMap((name) => typedAddress(fields.get(name)) ?? []);
  const [override, byItself] = WORDS[disposition];
  return {
    disposition,
    about: [...messageIdOf(fields.get('original-message-id') ?? ''), ...mail.references],
    addresses: [...named, mail.from.address],
    words: /mdn-sent-automatically/.test(mode) ? byItself : override,
  };
}
