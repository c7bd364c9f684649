import { randomUUID } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Recipient } from '@kiraku/core/contract';
import { newDelivery } from '@kiraku/core/delivery';
import { addressKey, domainOf } from '@kiraku/core/message';
import { filePath, imagePath, linkPath, optOutPath } from '@kiraku/core/tracking';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { draftFileOf, FilesService } from '../files/files.service.js';
import { dsnFor, type SubmittedEnvelope } from '@kiraku/core/delivery';
import type { MailBytes } from '../delivery/mailBytes.js';
import { OutboxRepository } from '../delivery/outbox.repository.js';
import { AccountService } from '../settings/account.service.js';
import { newToken } from '../tracking/tokens.js';
import type { OutgoingMessage } from './outgoingMessage.js';
import { MessagesRepository } from './messages.repository.js';
import { RecipientsRepository } from './recipients.repository.js';

/** What a copy is known by: its Message-ID, and the tokens of its image and its redirects. */
interface CopyIdentity {
  messageIdHeader: string;
  imageToken: string;
  /** By position; null for a link that is left alone. */
  linkTokens: (string | null)[];
  /** Of the files that travel as links, by their number. */
  fileTokens: ReadonlyMap<number, string>;
}

/** The copy for one recipient, ready to be committed. */
export interface PreparedCopy extends CopyIdentity {
  recipient: Recipient;
  mail: MailBytes;
}

/** Makes the copies of a message, one for each recipient, and puts them into the outbox. */
@Injectable()
export class CopiesService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly messages: MessagesRepository,
    private readonly outbox: OutboxRepository,
    private readonly people: RecipientsRepository,
    private readonly accounts: AccountService,
    private readonly files: FilesService,
    private readonly clock: Clock,
  ) {}

  /** Makes every copy, and writes nothing. */
  async prepare(outgoing: OutgoingMessage, recipients: readonly Recipient[]): Promise<PreparedCopy[]> {
    const { address } = this.accounts.sender();
    const notTracked = this.people.notTracked(recipients.map((one) => one.address));
    const copies: PreparedCopy[] = [];
    for (const recipient of recipients) {
      const tracked = !notTracked.has(addressKey(recipient.address));
      const identity: CopyIdentity = {
        messageIdHeader: outgoing.messageIdHeader ?? `<${randomUUID()}@${domainOf(address)}>`,
        imageToken: newToken(),
        linkTokens: outgoing.tracked.map((wanted) => (wanted && tracked ? newToken() : null)),
        // Who is not tracked gets them too: what is done with them is not recorded.
        fileTokens: this.files.newTokens(outgoing.files),
      };
      copies.push({ recipient, ...identity, mail: await this.make(outgoing, identity, tracked) });
    }
    return copies;
  }

  /** Writes the copies of a message down. Call it in the transaction that lets the message leave. */
  commit(messageId: number, outgoing: OutgoingMessage, copies: PreparedCopy[]): void {
    const now = this.clock.now();
    const linkIds = outgoing.links.map(({ position, text, url }) =>
      this.messages.addLink({ messageId, position, text, url, tracked: outgoing.tracked[position]! }),
    );
    const sentFileIds = this.files.commit(messageId, outgoing.files);
    const files = outgoing.files.map(draftFileOf);
    const hasLinks = outgoing.tracked.includes(true);
    this.messages.setCarried(messageId, { files, hasLinks, hasFiles: sentFileIds.size > 0 });
    for (const { recipient, messageIdHeader, imageToken, linkTokens, fileTokens, mail } of copies) {
      const personId = this.people.ensure(recipient, now);
      this.people.countMessage(personId);
      const copyId = this.messages.addCopy({
        messageId,
        personId,
        ...recipient,
        state: newDelivery(now).state,
        messageIdHeader,
        imageToken,
        mdnState: outgoing.requestMdn ? 'asked' : null,
      });
      this.messages.addCopyLinks(
        linkTokens.flatMap((token, position) => (token ? [{ token, copyId, linkId: linkIds[position]! }] : [])),
      );
      this.files.commitTokens(copyId, fileTokens, sentFileIds);
      this.queue(copyId, recipient.address, mail, outgoing.envelope);
    }
  }

  /** Gives a copy to another address, and to whoever is known by it. */
  readdress(copyId: number, recipient: Recipient): void {
    this.messages.readdress(copyId, recipient.address, this.people.ensure(recipient, this.clock.now()));
  }

  /** Makes a copy again under the identity it has. */
  remake(copyId: number, outgoing: OutgoingMessage, recipient: Recipient): Promise<MailBytes> {
    const { messageIdHeader, imageToken } = this.messages.copy(copyId)!;
    const tokens = this.messages.linkTokens(copyId);
    const linkTokens = outgoing.links.map(({ position }) => tokens.get(position) ?? null);
    const tracked = !this.people.notTracked([recipient.address]).has(addressKey(recipient.address));
    const fileTokens = this.files.tokensOf(copyId);
    return this.make(outgoing, { messageIdHeader, imageToken, linkTokens, fileTokens }, tracked);
  }

  /**
   * Puts a copy into the outbox; it leaves as soon as that is woken.
   *
   * @param envelope that of the mail program that submitted it: an address allowed besides leaves as itself
   */
  queue(copyId: number, envelopeTo: string, mail: MailBytes, envelope: SubmittedEnvelope | null): void {
    const now = this.clock.now();
    const envelopeFrom = envelope?.from ?? this.accounts.sender().address;
    const dsn = envelope && dsnFor(envelope, envelopeTo);
    const { own: raw, pieces } = mail;
    this.outbox.add({ copyId, envelopeFrom, envelopeTo, dsn, raw, pieces }, newDelivery(now).waiting);
  }

  private make(outgoing: OutgoingMessage, identity: CopyIdentity, tracked: boolean) {
    const { messageIdHeader, imageToken, linkTokens, fileTokens } = identity;
    const { publicUrl } = this.config;
    const hasTrackingUrls = outgoing.trackOpens || fileTokens.size > 0 || linkTokens.some((token) => token !== null);
    const anything = tracked && hasTrackingUrls;
    return outgoing.make({
      messageIdHeader,
      imageUrl: tracked && outgoing.trackOpens ? publicUrl + imagePath(imageToken) : null,
      linkUrls: linkTokens.map((token) => (tracked && token ? publicUrl + linkPath(token) : null)),
      fileUrls: new Map([...fileTokens].map(([fileId, token]) => [fileId, publicUrl + filePath(token)])),
      optOutUrl: (anything || outgoing.isOfRound) && outgoing.disclose ? publicUrl + optOutPath(imageToken) : null,
    });
  }
}
