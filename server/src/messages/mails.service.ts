import { Inject, Injectable } from '@nestjs/common';
import { simpleParser, type AddressObject, type ParsedMail } from 'mailparser';
import type { Draft, DraftContent, Preview, Recipient, RecipientKind } from '@kiraku/core/contract';
import { isLinked, withFileBlocks, withFilesNamed } from '@kiraku/core/files';
import {
  addressProblem,
  answerSubject,
  BLANK_CONTENT,
  disclosureOf,
  escapeHtml,
  goingOn,
  MESSAGE_LIMITS,
} from '@kiraku/core/message';
import { exactWords } from '@kiraku/core/time';
import { filePath, imagePath, linkPath, optOutPath, parsePublicPath, unweave } from '@kiraku/core/tracking';
import { Clock } from '../clock.js';
import { CONFIG, type Config } from '../config.js';
import { invalid, notFound } from '../http/problem.js';
import { newToken } from '../tracking/tokens.js';
import type { CopyLetter, CopyThreads } from './copyLetter.js';
import { DraftsService } from './drafts.service.js';
import { contentIdOf, letterOfText, letterText, picturesIn, withPictures } from './letter.js';
import { LettersService } from './letters.service.js';
import { MessagesRepository, type WholeMessage } from './messages.repository.js';
import { PicturesRepository } from './pictures.repository.js';
import { WritingSettings } from './writing.settings.js';

/** More of a source than this is not read. */
const SOURCE_LENGTH = 200_000;
const NO_FILES = new Map<number, string>();
const PLAIN: Omit<CopyThreads, 'linkUrls'> = {
  ...{ messageIdHeader: '', imageUrl: null, optOutUrl: null },
  fileUrls: NO_FILES,
};

/** Letters as mails and mails as letters: previews, .eml files out and in, and answers that quote. */
@Injectable()
export class MailsService {
  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly drafts: DraftsService,
    private readonly messages: MessagesRepository,
    private readonly letters: LettersService,
    private readonly pictures: PicturesRepository,
    private readonly writing: WritingSettings,
    private readonly clock: Clock,
  ) {}

  /** A draft as its recipients will see it, with tokens that stand for nothing. */
  async preview(draft: Draft): Promise<Preview> {
    const letter = this.letters.written(draft, this.clock.now());
    const { publicUrl } = this.config;
    const token = newToken();
    const raw = await letter.make({
      messageIdHeader: `<${newToken()}@preview.invalid>`,
      imageUrl: letter.trackOpens ? publicUrl + imagePath(token) : null,
      linkUrls: letter.tracked.map((tracked) => (tracked ? publicUrl + linkPath(newToken()) : null)),
      fileUrls: new Map(letter.files.map(({ fileId }) => [fileId, publicUrl + filePath(newToken())])),
      optOutUrl: letter.disclose ? publicUrl + optOutPath(token) : null,
    });
    const tells = letter.disclose && (letter.trackOpens || letter.tracked.includes(true));
    const foot = disclosureOf(this.writing.defaults().disclosure);
    const shown = withFileBlocks(draft.html, letter.files.filter(isLinked), () => '#');
    const { text } = await simpleParser(raw, { skipImageLinks: true });
    return {
      html: withPictures(shown, this.pictures.find(picturesIn(shown))) + (tells ? foot.html : ''),
      text: text ?? letterText(draft.html),
      source: raw.subarray(0, SOURCE_LENGTH).toString('latin1'),
    };
  }

  /** A draft as a mail, without tracking. */
  draftMail(draft: Draft): Promise<Buffer> {
    return plainMail(
      this.letters.written(draft, this.clock.now()),
      `<draft-${draft.id}.${draft.revision}@kiraku.invalid>`,
    );
  }

  /** A sent message as its sender keeps it: without tracking, so that reading one's own mail never counts. */
  async sentMail(id: number): Promise<Buffer> {
    const row = this.sentRow(id);
    const letter = await this.letters.sent(row);
    if (!letter) throw notFound('mail');
    const [first] = this.messages.copies(id);
    return plainMail(letter, first?.messageIdHeader ?? `<message-${id}@kiraku.invalid>`);
  }

  /** Begins a draft to the same people that goes on with the conversation, and quotes the letter. */
  answer(id: number): Draft {
    const row = this.sentRow(id);
    const [first] = this.messages.copies(id);
    const { trackOpens, trackLinks, disclose, deliveryReceipt, readReceipt } = this.writing.defaults();
    const when = exactWords(row.sentAt ?? row.queuedAt ?? row.createdAt);
    return this.drafts.add({
      ...BLANK_CONTENT,
      ...{ trackOpens, trackLinks, disclose, deliveryReceipt, readReceipt },
      recipients: row.recipients.filter((one) => one.kind !== 'bcc'),
      subject: answerSubject(row.subject),
      html: `<p></p><p>On ${when} I wrote:</p><blockquote>${withFilesNamed(row.html)}</blockquote>`,
      conversation: goingOn(row.conversation, [
        ...(first ? [first.messageIdHeader] : []),
        // What they answered is what one answers.
        ...this.messages.answers(id),
      ]),
    });
  }

  /**
   * Opens a mail as a draft: its recipients, subject and letter with its pictures. Tracking of ours is taken out.
   *
   * @throws 422 where it is no mail
   */
  async open(raw: Buffer): Promise<{ draft: Draft; leftOut: string[] }> {
    const parsed = await simpleParser(raw, { keepCidLinks: true }).catch(() => null);
    if (!parsed || parsed.headers.size === 0)
      throw invalid('This is not a mail. Save it from your mail program as .eml, and drop that file.');
    const content: DraftContent = {
      ...BLANK_CONTENT,
      ...this.switches(),
      recipients: recipientsOf(parsed),
      subject: oneLine(parsed.subject ?? '').slice(0, MESSAGE_LIMITS.subjectLength),
      html: this.letterOf(parsed).slice(0, MESSAGE_LIMITS.htmlLength),
      conversation: [parsed.references ?? []].flat().slice(-MESSAGE_LIMITS.conversation),
    };
    const leftOut = parsed.attachments
      .filter((one) => !one.related)
      .map((one) => one.filename ?? 'a file without a name');
    return { draft: this.drafts.add(content), leftOut };
  }

  private switches() {
    const { trackOpens, trackLinks, disclose, deliveryReceipt, readReceipt } = this.writing.defaults();
    return { trackOpens, trackLinks, disclose, deliveryReceipt, readReceipt };
  }

  private letterOf({ html, text, attachments }: ParsedMail): string {
    if (!html) return letterOfText(text ?? '');
    const pictures = attachments.filter((one) => one.cid && one.contentType.startsWith('image/'));
    const own = pictures.reduce((letter, { cid, contentType, content }) => {
      const url = `cid:${contentIdOf(this.pictures.add(contentType, content, this.clock.now()))}`;
      return letter.replaceAll(`cid:${cid}`, url);
    }, html);
    return this.withoutThreads(own);
  }

  /** A letter that may have been one of ours, without our image and redirects. */
  withoutThreads(html: string): string {
    const { publicUrl } = this.config;
    const addresses = [...html.matchAll(/https?:\/\/[^\s"'<>]+/g)].map(([url]) => url);
    const own = addresses.filter((url) => url.startsWith(`${publicUrl}/`));
    const targets = new Map<string, string>();
    let plain = html;
    for (const url of own) {
      const named = parsePublicPath(url.slice(publicUrl.length));
      if (named?.kind === 'image') plain = unweave(plain, url, new Map());
      const target = named?.kind === 'link' ? this.messages.targetOf(named.token) : undefined;
      if (target) targets.set(url, escapeHtml(target));
    }
    return unweave(plain, null, targets);
  }

  private sentRow(id: number): WholeMessage {
    const row = this.messages.row(id);
    if (!row || row.state === 'draft') throw notFound('sent message');
    return row;
  }
}

function plainMail(letter: CopyLetter, messageIdHeader: string): Promise<Buffer> {
  return letter.make({ ...PLAIN, messageIdHeader, linkUrls: letter.tracked.map(() => null) });
}

function recipientsOf(parsed: ParsedMail): Recipient[] {
  const lists: [RecipientKind, AddressObject | AddressObject[] | undefined][] = [
    ['to', parsed.to],
    ['cc', parsed.cc],
    ['bcc', parsed.bcc],
  ];
  return lists
    .flatMap(([kind, list]) =>
      mailboxes(list).map(({ name, address = '' }) => ({ kind, name: oneLine(name), address })),
    )
    .filter(({ address }) => addressProblem(address) === null)
    .slice(0, MESSAGE_LIMITS.recipients);
}

function mailboxes(list: AddressObject | AddressObject[] | undefined) {
  return [list ?? []].flat().flatMap(({ value }) => value.flatMap((one) => one.group ?? [one]));
}

function oneLine(text: string): string {
  return text.replace(/[\p{Cc}\u2028\u2029\u202a-\u202e\u2066-\u2069]+/gu, ' ').slice(0, MESSAGE_LIMITS.subjectLength);
}
