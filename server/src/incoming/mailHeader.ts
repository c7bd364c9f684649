import { addressIn, ORIGINAL_FROM_FIELDS, readFields, referencesOf } from '@kiraku/core/incoming';
import type { OpenedMail } from '../mime/readMail.js';

/** What the header of a mail says that is not fetched yet. */
export interface MailHeader extends Pick<OpenedMail, 'from' | 'references' | 'returnPath' | 'subject'> {
  /** Addresses of who may have written it. */
  writers: string[];
  isReport: boolean;
}

/** What is said of a mail that may concern us, before it is fetched whole. */
export const HEADER_FIELDS = [
  'message-id',
  'in-reply-to',
  'references',
  'return-path',
  'content-type',
  'subject',
  'from',
  'reply-to',
  ...ORIGINAL_FROM_FIELDS,
];
/** Of what a header says, so much is looked at before the mail is read: strangers write it. */
const MAX_HEADER_CHARS = 256 * 1024;
const MAX_FIELD_CHARS = 1000;

/** What a mail says of itself, before it is fetched whole. */
export function headerOf(headers: Buffer): MailHeader {
  const [fields] = readFields(headers.subarray(0, MAX_HEADER_CHARS).toString('utf8'));
  const [address = '', ...others] = ['from', 'reply-to', ...ORIGINAL_FROM_FIELDS].flatMap((name) =>
    addressIn(fields?.get(name)),
  );
  const returnPath = fields?.get('return-path');
  return {
    from: { name: '', address },
    writers: [address, ...others],
    subject: (fields?.get('subject') ?? '').slice(0, MAX_FIELD_CHARS),
    references: referencesOf((name) => fields?.get(name)),
    returnPath: returnPath === undefined ? null : returnPath.replace(/[<>\s]/g, ''),
    isReport:
      /multipart\/report/i.test(fields?.get('content-type') ?? '') || /^(mailer-daemon|postmaster)@/i.test(address),
  };
}
