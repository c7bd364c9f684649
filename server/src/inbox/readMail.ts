import { simpleParser, type AddressObject, type ParsedMail, type SimpleParserOptions } from 'mailparser';
import { messageIdsIn, type ReceivedMail } from '@kiraku/core/inbox';

/** A mail that came in: what is decided upon, and what is shown of it. */
export interface OpenedMail extends ReceivedMail {
  /** As it came; null for plain text. */
  html: string | null;
  /** When its writer says that it was written. */
  date: Date | null;
  pictures: { contentId: string; mediaType: string; bytes: Buffer }[];
}

const MOST_TEXT = 500_000;
const REPORT = /^message\/(global-)?(delivery-status|disposition-notification)$/;
const RETURNED = /^(message\/rfc822|message\/global|text\/rfc822-headers|message\/(global|rfc822)-headers)$/;

/**
 * Takes a mail apart (RFC 5322, RFC 2045).
 *
 * @param returnPath MAIL FROM where the server had it from; null where that is not known
 * @returns null for what is no mail
 */
export async function readMail(raw: Buffer, returnPath: string | null): Promise<OpenedMail | null> {
  // The library’s types do not know the first.
  const options: SimpleParserOptions & { keepDeliveryStatus: boolean } = {
    ...{ keepDeliveryStatus: true, keepCidLinks: true, skipTextToHtml: true, maxHtmlLengthToParse: MOST_TEXT },
  };
  const parsed: ParsedMail | null = await simpleParser(raw, options).catch(() => null);
  if (!parsed || parsed.headers.size === 0) return null;
  const headers = headersOf(parsed);
  const [from] = mailboxes(parsed.from);
  const parts = parsed.attachments.map(({ contentType, content }) => ({
    mediaType: contentType.toLowerCase(),
    content,
  }));
  const { references } = parsed;
  return {
    messageIdHeader: messageIdsIn(parsed.messageId ?? '')[0] ?? null,
    returnPath: returnPath ?? writtenPath(headers.get('return-path')),
    from: { name: oneLine(from?.name ?? ''), address: from?.address ?? '' },
    subject: oneLine(parsed.subject ?? ''),
    references: [...messageIdsIn(parsed.inReplyTo ?? ''), ...[references ?? []].flat().flatMap(messageIdsIn).reverse()],
    headers,
    text: (parsed.text ?? '').slice(0, MOST_TEXT),
    reports: parts
      .filter(({ mediaType }) => REPORT.test(mediaType))
      .map(({ mediaType, content }) => ({ mediaType, text: content.toString('utf8') })),
    returned: parts.find(({ mediaType }) => RETURNED.test(mediaType))?.content.toString('utf8') ?? '',
    html: parsed.html || null,
    date: parsed.date ?? null,
    pictures: parsed.attachments
      .filter(({ cid, contentType }) => cid && /^image\/(png|jpeg|gif|webp)$/.test(contentType))
      .map(({ cid, contentType, content }) => ({ contentId: cid!, mediaType: contentType, bytes: content })),
  };
}

/** As they were written: the library gives most of them as objects. */
function headersOf({ headerLines }: ParsedMail): Map<string, string> {
  const headers = new Map<string, string>();
  for (const { key, line } of headerLines) {
    const value = line
      .slice(line.indexOf(':') + 1)
      .replace(/\r?\n[ \t]+/g, ' ')
      .trim();
    if (!headers.has(key)) headers.set(key, value);
  }
  return headers;
}

/** What the server that took the mail in wrote above it (RFC 5321, section 4.4); empty for “<>”. */
function writtenPath(value: string | undefined): string | null {
  return value === undefined ? null : value.replace(/[<>\s]/g, '');
}

function mailboxes(list: AddressObject | undefined) {
  return (list?.value ?? []).flatMap((one) => one.group ?? [one]);
}

function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069]+/gu, ' ').slice(0, MOST_LINE);
}

const MOST_LINE = 900;
