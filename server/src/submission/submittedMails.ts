import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { simpleParser, type AddressObject } from 'mailparser';
import type { Recipient, RecipientKind } from '@kiraku/core/contract';
import type { SubmittedEnvelope } from '@kiraku/core/delivery';
import { addressKey, domainOf, htmlProblem, MESSAGE_LIMITS, textOutsideTags } from '@kiraku/core/message';
import type { PublicTarget } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { cleanBody, bodyOfText } from '../messages/messageBody.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import type { OutgoingMessage } from '../messages/outgoingMessage.js';
import { withoutOwnTracking, type KnownTracking } from '../messages/ownTracking.js';
import {
  SIGNATURE_FIELDS,
  submittedMessage,
  whyUntracked,
  type SubmittedTracking,
} from '../messages/submittedMessage.js';
import { WritingSettings } from '../messages/writing.settings.js';
import { textOfPart } from '../mime/encoding.js';
import { fieldValue, hasField, withoutFields } from '../mime/header.js';
import { repairMail } from '../mime/repair.js';
import { isTextPart, splitMail, type SplitMail } from '../mime/split.js';
import { AccountService } from '../settings/account.service.js';
import { LinkedFiles } from './linkedFiles.js';
import { mailboxesOf } from './mailboxesOf.js';
import { Refusal } from './refusal.js';
import { Senders } from './senders.js';

const TRACK_FIELD = 'X-Kiraku-Track';
/** What one mail may have leave over all its copies. */
const MAX_OUTGOING_BYTES = 4_000_000_000;

const TRACK_VALUES: Record<string, Pick<SubmittedTracking, 'trackOpens' | 'trackClicks'>> = {
  all: { trackOpens: true, trackClicks: true },
  opens: { trackOpens: true, trackClicks: false },
  links: { trackOpens: false, trackClicks: true },
  none: { trackOpens: false, trackClicks: false },
};

/** A mail that was submitted, ready to be made copies of: its row, but for its times. */
export interface SubmittedMail extends SubmittedTracking {
  outgoing: OutgoingMessage;
  senderName: string;
  senderAddress: string;
  recipients: Recipient[];
  subject: string;
  /** As the desk shows it. */
  html: string;
  untrackedReason: string | null;
  removedFields: string[];
  conversation: string[];
}

/** Reads what another mail program submits. */
@Injectable()
export class SubmittedMails {
  constructor(
    private readonly senders: Senders,
    private readonly linkedFiles: LinkedFiles,
    private readonly messages: MessagesRepository,
    private readonly accounts: AccountService,
    private readonly writing: WritingSettings,
    private readonly clock: Clock,
  ) {}

  /** @throws Refusal where it cannot be taken */
  async read(received: Buffer, envelope: SubmittedEnvelope): Promise<SubmittedMail> {
    const { raw, mail } = await opened(received).catch((error: Error) => {
      throw new Refusal(554, '5.6.0', `This message could not be read: ${error.message}.`);
    });
    const headers = await simpleParser(Buffer.from(mail.header, 'latin1'));
    const author = this.senders.checkAuthors(mail.header, headers);
    const recipients = recipientsOf(envelope, headers.to, headers.cc);
    if (raw.length * recipients.length > MAX_OUTGOING_BYTES)
      throw new Refusal(552, '5.3.4', 'Too large for so many recipients. Send it to fewer people at a time.');

    const requested = this.tracking(mail.header);
    const isWanted = requested.trackOpens || requested.trackClicks;
    const { mail: rest, files } = isWanted ? await this.linkedFiles.withLinks(raw, mail) : { mail, files: [] };
    const clean = await withoutOwnTracking(this.completed(rest), (targets) => this.knownTracking(targets));
    const isChanged = (isWanted && whyUntracked(clean) === null) || clean.pieces !== mail.pieces;
    const removedFields = isChanged ? SIGNATURE_FIELDS.filter((name) => hasField(clean.header, name)) : [];
    // A signature of the program's own no longer fits what leaves.
    const ready = { ...clean, header: withoutFields(clean.header, removedFields) };
    const messageIdHeader = fieldValue(ready.header, 'Message-ID')!;
    const { disclosure } = this.writing.defaults();
    const outgoing = submittedMessage(ready, messageIdHeader, requested, disclosure, envelope, files);
    const sender = this.accounts.sender();
    return {
      ...requested,
      outgoing,
      senderName: headers.from?.value[0]?.name || sender.name,
      senderAddress: author ?? sender.address,
      recipients,
      subject: (headers.subject ?? '').replace(/\s+/g, ' ').slice(0, MESSAGE_LIMITS.maxSubjectChars),
      html: shownHtml(ready),
      untrackedReason: isWanted ? whyUntracked(ready) : null,
      removedFields,
      conversation: conversationOf(headers.references),
    };
  }

  private knownTracking(targets: readonly PublicTarget[]): KnownTracking {
    const tokensOf = (...kinds: PublicTarget['kind'][]) =>
      targets.filter(({ kind }) => kinds.includes(kind)).map(({ token }) => token);
    return {
      images: this.messages.imagesOf(tokensOf('image', 'optOut')),
      links: this.messages.targetsOf(tokensOf('link')),
    };
  }

  /** What the mail itself asks for, else what new messages begin with. */
  private tracking(header: string): SubmittedTracking {
    const { trackOpens, trackClicks, disclose, requestDsn } = this.writing.defaults();
    const requested = fieldValue(header, TRACK_FIELD)?.toLowerCase();
    if (requested !== undefined && !(requested in TRACK_VALUES))
      throw new Refusal(554, '5.6.0', `${TRACK_FIELD} is “${requested}”. It can be all, opens, links or none.`);
    // Asked for by the mail itself, and by nothing else: its header is its writer’s.
    const requestMdn = fieldValue(header, 'Disposition-Notification-To') !== undefined;
    return { trackOpens, trackClicks, disclose, requestDsn, requestMdn, ...(requested && TRACK_VALUES[requested]) };
  }

  /** Without what is for this server only, and with what every mail must have (RFC 6409, section 8). */
  private completed(mail: SplitMail): SplitMail {
    const { address } = this.accounts.sender();
    const needed = [
      ['From', `<${address}>`],
      ['Date', new Date(this.clock.now()).toUTCString().replace('GMT', '+0000')],
      ['Message-ID', `<${randomUUID()}@${domainOf(address)}>`],
    ] as const;
    const missing = needed.filter(([name]) => !fieldValue(mail.header, name));
    // One that is there and empty is none.
    const unmatched = ['Bcc', 'Resent-Bcc', TRACK_FIELD, ...missing.map(([name]) => name)];
    const header = withoutFields(mail.header, unmatched);
    return { ...mail, header: missing.map(([name, value]) => `${name}: ${value}\r\n`).join('') + header };
  }
}

/** A mail taken apart; what is signed or encrypted as it came, all else with its multiparts closed. */
async function opened(received: Buffer): Promise<{ raw: Buffer; mail: SplitMail }> {
  const raw = repairMail(received);
  return { raw, mail: await splitMail(raw) };
}

/** Who of the envelope is named where; who is named nowhere gets a blind copy. */
function recipientsOf(
  { to }: SubmittedEnvelope,
  named: AddressObject | AddressObject[] | undefined,
  copied: AddressObject | AddressObject[] | undefined,
): Recipient[] {
  const kinds = new Map<string, { kind: RecipientKind; name: string }>();
  for (const [kind, list] of [
    ['cc', copied],
    ['to', named],
  ] as const)
    for (const { name, address } of mailboxesOf(list)) kinds.set(addressKey(address), { kind, name });
  const unique = new Map(to.map(({ address }) => [addressKey(address), address]));
  return [...unique].map(([key, address]) => ({ address, ...(kinds.get(key) ?? { kind: 'bcc', name: '' }) }));
}

function conversationOf(references: string | string[] | undefined): string[] {
  return [references ?? []].flat().slice(-MESSAGE_LIMITS.maxConversationIds);
}

/** The message as the desk shows it: its HTML, else its text. */
function shownHtml({ pieces, protection }: SplitMail): string {
  if (protection === 'encrypted') return '';
  const parts = pieces.filter(isTextPart);
  const html = parts.filter((part) => part.mediaType === 'text/html');
  const shown = html.length > 0 ? html : parts;
  return shown
    .map((part) => (textOfPart(part) ?? '').slice(0, MESSAGE_LIMITS.maxHtmlChars))
    .map((text) => {
      if (html.length === 0) return bodyOfText(text);
      return htmlProblem(text) === null ? cleanBody(text) : bodyOfText(textOutsideTags(text));
    })
    .join('<hr>');
}
