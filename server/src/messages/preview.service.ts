import { Inject, Injectable } from '@nestjs/common';
import { simpleParser } from 'mailparser';
import type { Draft, Preview } from '@kiraku/core/contract';
import { isLinked, withFileBlocks } from '@kiraku/core/files';
import { disclosureOf, ROUND_DISCLOSURE } from '@kiraku/core/message';
import { filePath, imagePath, linkPath, optOutPath } from '@kiraku/core/tracking';
import { wholeMail } from '../delivery/mailBytes.js';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { newToken } from '../tracking/tokens.js';
import { bodyText, picturesIn, withPictures } from './messageBody.js';
import { MessagesRepository } from './messages.repository.js';
import { OutgoingService } from './outgoing.service.js';
import { PicturesRepository } from './pictures.repository.js';
import { WritingSettings } from './writing.settings.js';

/** More of a source than this is not read. */
const MAX_SOURCE_CHARS = 200_000;

/** Shows drafts before they are sent. */
@Injectable()
export class PreviewService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly messages: MessagesRepository,
    private readonly outgoing: OutgoingService,
    private readonly pictures: PicturesRepository,
    private readonly writing: WritingSettings,
    private readonly clock: Clock,
  ) {}

  /** A draft as its recipients will see it, with tokens that stand for nothing. */
  async of(draft: Draft): Promise<Preview> {
    const outgoing = this.outgoing.written(draft, this.clock.now(), this.messages.isOfRound(draft.id));
    const { publicUrl } = this.config;
    const token = newToken();
    const made = await outgoing.make({
      messageIdHeader: `<${newToken()}@preview.invalid>`,
      imageUrl: outgoing.trackOpens ? publicUrl + imagePath(token) : null,
      linkUrls: outgoing.tracked.map((tracked) => (tracked ? publicUrl + linkPath(newToken()) : null)),
      fileUrls: new Map(outgoing.files.map(({ fileId }) => [fileId, publicUrl + filePath(newToken())])),
      optOutUrl: outgoing.disclose ? publicUrl + optOutPath(token) : null,
    });
    const raw = wholeMail(made, outgoing.shared);
    const tells = outgoing.disclose && (outgoing.isOfRound || outgoing.trackOpens || outgoing.tracked.includes(true));
    const foot = disclosureOf(outgoing.isOfRound ? ROUND_DISCLOSURE : this.writing.defaults().disclosure);
    const shown = withFileBlocks(draft.html, outgoing.files.filter(isLinked), () => '#');
    const { text } = await simpleParser(raw, { skipImageLinks: true });
    return {
      html: withPictures(shown, this.pictures.find(picturesIn(shown))) + (tells ? foot.html : ''),
      text: text ?? bodyText(draft.html),
      source: raw.subarray(0, MAX_SOURCE_CHARS).toString('latin1'),
    };
  }
}
