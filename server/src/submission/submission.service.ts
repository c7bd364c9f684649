import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { simpleParser, type AddressObject, type ParsedMail } from 'mailparser';
import type { DraftFile, Mailbox, Recipient, RecipientKind } from '@kiraku/core/contract';
import { AS_LINK } from '@kiraku/core/files';
import {
  addressKey,
  addressProblem,
  domainOf,
  htmlProblem,
  MESSAGE_LIMITS,
  textOutsideTags,
} from '@kiraku/core/message';
import type { PublicTarget } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { FilesService, type CarriedFile } from '../files/files.service.js';
import { FilesSettings } from '../files/files.settings.js';
import { CopiesService } from '../messages/copies.service.js';
import { cleanBody, bodyOfText } from '../messages/messageBody.js';
import { MessagesRepository } from '../messages/messages.repository.js';
import { withoutOwnTracking, type KnownTracking } from '../messages/ownTracking.js';
import {
  SIGNATURE_FIELDS,
  submittedMessage,
  whyUntracked,
  type SubmittedTracking,
} from '../messages/submittedMessage.js';
import { WritingSettings } from '../messages/writing.settings.js';
import { textOfPart } from '../mime/encoding.js';
import { fieldCount, fieldValue, hasField, withoutFields } from '../mime/header.js';
import { attachmentsOf, withoutParts } from '../mime/attachments.js';
import { repairMail } from '../mime/repair.js';
import { isTextPart, splitMail, type SplitMail } from '../mime/split.js';
import type { SubmittedEnvelope } from '../delivery/envelope.js';
import { OutboxService } from '../delivery/outbox.service.js';
import { AccountService } from '../settings/account.service.js';
import { Changes } from '../store/changes.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { OwnAddresses } from './ownAddresses.js';

/** A refusal in the words of RFC 5321 and RFC 3463: the code, the enhanced code, and what to do about it. */
export class Refusal extends Error {
  constructor(
    readonly responseCode: number,
    enhanced: string,
    /** The same for the user. */
    readonly words: string,
  ) {
    super(`${enhanced} ${words}`);
  }
}

const TRACK_FIELD = 'X-Kiraku-Track';
/** What one mail may have leave over all its copies. */
const MAX_OUTGOING_BYTES = 4_000_000_000;

const TRACK_VALUES: Record<string, Pick<SubmittedTracking, 'trackOpens' | 'trackClicks'>> = {
  all: { trackOpens: true, trackClicks: true },
  opens: { trackOpens: true, trackClicks: false },
  links: { trackOpens: false, trackClicks: true },
  none: { trackOpens: false, trackClicks: false },
};

/** Takes mail from the sender's other mail programs, and treats it as if it had been written here. */
@Injectable()
export class SubmissionService {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly copies: CopiesService,
    private readonly outbox: OutboxService,
    private readonly accounts: AccountService,
    private readonly writing: WritingSettings,
    private readonly ownAddresses: OwnAddresses,
    private readonly files: FilesService,
    private readonly filesSettings: FilesSettings,
    private readonly changes: Changes,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {}

  /** Refuses a sender address that is not the account's own, and was not allowed besides. */
  checkSender(address: string): void {
    // What must not be answered comes from no address (RFC 5321, section 4.5.5): receipts of mail programs.
    if (address === '' || this.ownAddresses.has(address)) return;
    const allowed = this.ownAddresses.keys();
    throw new Refusal(553, '5.7.1', `Kiraku sends as ${allowed.join(', ')} only. Allow ${address} in its settings.`);
  }

  /**
   * Refuses a mail that names anybody else as its author. Returns the first author's address; undefined where none is named.
   */
  private checkAuthors(header: string, { from, headers }: ParsedMail): string | undefined {
    const fields = fieldCount(header, 'From');
    // RFC 5322, section 3.6: programs that show the second one would show somebody else.
    if (fields > 1) throw new Refusal(554, '5.6.0', 'This message has more than one From field. Send it with one.');
    const authors = mailboxesOf(from);
    if (fields === 1 && authors.length === 0)
      throw new Refusal(554, '5.6.0', 'This message names no address in its From field.');
    const sender = mailboxesOf(headers.get('sender') as AddressObject | undefined);
    for (const { address } of [...authors, ...sender]) this.checkSender(address);
    return authors[0]?.address;
  }

  /** Refuses what cannot be a recipient. */
  checkRecipient(address: string): void {
    const problem = addressProblem(address);
    if (problem) throw new Refusal(553, '5.1.3', problem);
  }

  /**
   * Takes a mail. Resolves when every copy lies durably in the outbox.
   *
   * @throws Refusal where it cannot be taken; nothing of it is kept then
   */
  async take(received: Buffer, envelope: SubmittedEnvelope): Promise<void> {
    const { raw, mail } = await opened(received).catch((error: Error) => {
      throw new Refusal(554, '5.6.0', `This message could not be read: ${error.message}.`);
    });
    const headers = await simpleParser(Buffer.from(mail.header, 'latin1'));
    const author = this.checkAuthors(mail.header, headers);
    const recipients = recipientsOf(envelope, headers.to, headers.cc);
    if (raw.length * recipients.length > MAX_OUTGOING_BYTES)
      throw new Refusal(552, '5.3.4', 'Too large for so many recipients. Send it to fewer people at a time.');

    const requested = this.tracking(mail.header);
    const isWanted = requested.trackOpens || requested.trackClicks;
    const { mail: rest, files } = isWanted ? await this.withLinks(raw, mail) : { mail, files: [] };
    const clean = await withoutOwnTracking(this.completed(rest), (targets) => this.knownTracking(targets));
    const isChanged = (isWanted && whyUntracked(clean) === null) || clean.pieces !== mail.pieces;
    const removedFields = isChanged ? SIGNATURE_FIELDS.filter((name) => hasField(clean.header, name)) : [];
    // A signature of the program's own no longer fits what leaves.
    const ready = { ...clean, header: withoutFields(clean.header, removedFields) };
    const messageIdHeader = fieldValue(ready.header, 'Message-ID')!;
    const { disclosure } = this.writing.defaults();
    const outgoing = submittedMessage(ready, messageIdHeader, requested, disclosure, envelope, files);
    const copies = await this.copies.prepare(outgoing, recipients);
    const sender = this.accounts.sender();
    const now = this.clock.now();
    this.unit.commit(() => {
      const id = this.messages.addSubmitted(
        {
          senderName: headers.from?.value[0]?.name || sender.name,
          senderAddress: author ?? sender.address,
          recipients,
          subject: (headers.subject ?? '').replace(/\s+/g, ' ').slice(0, MESSAGE_LIMITS.maxSubjectChars),
          html: shownHtml(ready),
          ...requested,
          untrackedReason: isWanted ? whyUntracked(ready) : null,
          removedFields,
          conversation: conversationOf(headers.references),
          createdAt: now,
          updatedAt: now,
          queuedAt: now,
          lastActivityAt: now,
        },
        outgoing.shared!,
      );
      this.copies.commit(id, outgoing, copies);
      this.changes.note({ messageId: id });
    });
    this.outbox.wake();
  }

  private knownTracking(targets: readonly PublicTarget[]): KnownTracking {
    const tokensOf = (...kinds: PublicTarget['kind'][]) =>
      targets.filter(({ kind }) => kinds.includes(kind)).map(({ token }) => token);
    return {
      images: this.messages.imagesOf(tokensOf('image', 'optOut')),
      links: this.messages.targetsOf(tokensOf('link')),
    };
  }

  /** The mail with those attachments taken out that are to travel as links. What may not be changed stays as it is. */
  private async withLinks(raw: Buffer, mail: SplitMail): Promise<{ mail: SplitMail; files: CarriedFile[] }> {
    const { kinds, fromBytes } = this.filesSettings.view().submitted;
    if (kinds.length === 0 || whyUntracked(mail) !== null) return { mail, files: [] };
    const attached = await attachmentsOf(raw);
    const files: DraftFile[] = [];
    const parts = new Set<number>();
    for (const { part, name, bytes } of attached.filter((one) => one.bytes.length >= fromBytes)) {
      const fileId = await this.files.takeBytes(bytes, name, kinds);
      if (fileId === null) continue;
      files.push({ ...AS_LINK, fileId });
      parts.add(part);
    }
    if (parts.size === 0) return { mail, files: [] };
    return { mail: await splitMail(await withoutParts(raw, parts)), files: this.files.carried(files) };
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

function mailboxesOf(list: AddressObject | AddressObject[] | undefined): Mailbox[] {
  return [list ?? []]
    .flat()
    .flatMap(({ value }) => value.flatMap((one) => one.group ?? [one]))
    .flatMap(({ name, address }) => (address ? [{ name: name.slice(0, MESSAGE_LIMITS.maxNameChars), address }] : []));
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
