import { Injectable } from '@nestjs/common';
import { cleanAnswer, letterOfText } from '../messages/letter.js';
import { MailsService } from '../messages/mails.service.js';
import type { OpenedMail } from './readMail.js';

/** Of pictures that a mail carries, so much is shown. */
const MOST_PICTURES = 2_000_000;
const MOST_HTML = 1_000_000;

/** Letters of others as the desk keeps and shows them. */
@Injectable()
export class AnswerLetters {
  constructor(private readonly mails: MailsService) {}

  /**
   * What somebody wrote. Of a letter of ours that it quotes, the image is gone and the links lead to their own targets, so
   * that reading it here counts as nobody’s look.
   */
  shown({ html, text, pictures }: OpenedMail): string {
    const urls = new Map<string, string>();
    let left = MOST_PICTURES;
    for (const { contentId, mediaType, bytes } of pictures) {
      if ((left -= bytes.length) < 0) break;
      urls.set(`cid:${contentId}`, `data:${mediaType};base64,${bytes.toString('base64')}`);
    }
    const written = html === null || html.length > MOST_HTML ? letterOfText(text) : html;
    return cleanAnswer(this.mails.withoutThreads(written), (src) => urls.get(src));
  }
}
