import { Injectable } from '@nestjs/common';
import type { DraftContent } from '@kiraku/core/contract';
import { contentOf, ROUND_DISCLOSURE } from '@kiraku/core/message';
import { FilesService } from '../files/files.service.js';
import { splitMail } from '../mime/split.js';
import { AccountService } from '../settings/account.service.js';
import type { OutgoingMessage } from './outgoingMessage.js';
import { contentIdOf, picturesIn } from './messageBody.js';
import { MessagesRepository, type WholeMessage } from './messages.repository.js';
import { PicturesRepository } from './pictures.repository.js';
import { submittedMessage } from './submittedMessage.js';
import { WritingSettings } from './writing.settings.js';
import { writtenMessage } from './writtenMessage.js';

/** Finds together what a message leaves with: its sender, its pictures, the wording of the disclosure. */
@Injectable()
export class OutgoingService {
  constructor(
    private readonly messages: MessagesRepository,
    private readonly pictures: PicturesRepository,
    private readonly accounts: AccountService,
    private readonly settings: WritingSettings,
    private readonly files: FilesService,
  ) {}

  /**
   * A message written here, as it leaves at a time.
   *
   * @param isOfRound whether it is one of many alike
   */
  written(content: DraftContent, date: number, isOfRound: boolean): OutgoingMessage {
    return writtenMessage(content, {
      sender: this.accounts.sender(),
      date: new Date(date),
      disclosure: isOfRound ? ROUND_DISCLOSURE : this.settings.defaults().disclosure,
      pictures: this.pictures
        .find(picturesIn(content.html))
        .map(({ id, mediaType, bytes }) => ({ contentId: contentIdOf(id), mediaType, bytes })),
      files: this.files.carried(content.files),
      bytesOf: (file) => this.files.bytesOf(file),
      isOfRound,
    });
  }

  /** The message of a message that was sent, as it was; undefined where its original is gone. */
  async sent(row: WholeMessage): Promise<OutgoingMessage | undefined> {
    if (row.origin === 'written')
      return this.written(contentOf(row), row.sentAt ?? row.queuedAt ?? row.createdAt, row.roundId !== null);
    const raw = this.messages.submitted(row.id);
    const [first] = this.messages.copies(row.id);
    if (!raw || !first) return undefined;
    const { disclosure } = this.settings.defaults();
    // Asked for anew, it is asked for nothing besides; its sender is who wrote it.
    const envelope = { from: row.senderAddress, to: [] };
    const files = this.files.carried(row.files);
    return submittedMessage(await splitMail(raw), first.messageIdHeader, row, disclosure, envelope, files);
  }
}
