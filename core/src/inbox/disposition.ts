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

const WORDS: Record<Disposition, [byHand: string, byItself: string]> = {
  displayed: ['Their receipt says that it was shown.', 'Their program says by itself that it was shown.'],
  deleted: [
    'Their receipt says that it was deleted, perhaps unread.',
    'Their program says by itself that it was deleted, perhaps unread.',
  ],
  denied: ['They declined to send a receipt.', 'Their program declines receipts.'],
  processed: ['Their receipt says that a program dealt with it.', 'Their program says that it dealt with it.'],
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
  const [byHand, byItself] = WORDS[disposition];
  return {
    disposition,
    about: [...messageIdOf(fields.get('original-message-id') ?? ''), ...mail.references],
    addresses: [...named, mail.from.address],
    words: /mdn-sent-automatically/.test(mode) ? byItself : byHand,
  };
}
