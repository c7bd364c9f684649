import { Injectable } from '@nestjs/common';
import { MailReader, type ForeignBody } from '../messages/mailReader.js';
import type { OpenedMail } from '../mime/readMail.js';

/** Of pictures that a mail carries, so much is shown. */
const MAX_REPLY_PICTURES_BYTES = 2_000_000;

/** Messages of others as the desk keeps and shows them. */
@Injectable()
export class ReplyBodies {
  constructor(private readonly reader: MailReader) {}

  /** What somebody wrote, showing its pictures by itself. */
  shown(mail: OpenedMail): Promise<ForeignBody> {
    const urls = new Map<string, string>();
    let roomBytes = MAX_REPLY_PICTURES_BYTES;
    for (const { contentId, mediaType, bytes } of mail.pictures) {
      if ((roomBytes -= bytes.length) < 0) break;
      urls.set(contentId, `data:${mediaType};base64,${Buffer.from(bytes).toString('base64')}`);
    }
    return this.reader.bodyOf(mail, urls);
  }
}
