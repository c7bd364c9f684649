import { Inject, Injectable, Logger, type OnApplicationShutdown } from '@nestjs/common';
import type { Classified } from '@kiraku/core/incoming';
import { SECOND } from '@kiraku/core/time';
import { parsePublicPath } from '@kiraku/core/tracking';
import { CONFIG, type Config } from '../environment/config.js';
import { bodyOfText } from './messageBody.js';
import { MessagesRepository } from './messages.repository.js';
import { BoundedChild, type ChildBounds } from '../process/boundedChild.js';
import type { OpenedMail } from '../mime/readMail.js';
import { programFile } from '../process/program.js';

/** What the program is asked: to take a mail apart, or to clean HTML. */
export type MailTask =
  | { raw: Uint8Array; returnPath: string | null }
  | { html: string; pictures: Map<string, string>; targets: Map<string, string> };

/** A mail as far as it could be read, and what it is. */
export interface ReadMail {
  mail: OpenedMail;
  classified: Classified;
  /** Why not all of it could be read, in a sentence; null where it could. */
  problem: string | null;
}

/** A message of somebody else as it may be kept and shown. */
export interface ForeignBody {
  html: string;
  /** Why only its plain text is shown; null where all is. */
  problem: string | null;
}

const PROGRAM = programFile('mailReader.program');
const BOUNDS: ChildBounds = { maxHeapBytes: 256 * 2 ** 20, maxDataBytes: 1024 * 2 ** 20, maxCpuSeconds: 300 };
const MAX_READ_MS = 20 * SECOND;
const MAX_CLEAN_MS = 5 * SECOND;
/** The header and the beginning of the text stand here, in all but the strangest mail. The first that can be read counts. */
const BEGINNINGS_BYTES = [256 * 1024, 16 * 1024];
/** More of our links than this are in no message of ours. */
const MAX_OWN_LINKS = 1000;

const NOT_WHOLE = 'It could not be read within the time and memory allowed for a message: only its beginning is shown.';
const NOT_CLEANED = 'Its HTML could not be read within the time and memory allowed for a message.';
const PLAIN_TEXT_ONLY = 'Only its plain text is shown.';

/**
 * Reads mail of strangers, and cleans their HTML, in a process of its own with limits: nothing that a mail says can hold up
 * or end the process that serves people.
 */
@Injectable()
export class MailReader implements OnApplicationShutdown {
  private readonly logger = new Logger(MailReader.name);
  private readonly child = new BoundedChild<MailTask>(PROGRAM, BOUNDS);

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly messages: MessagesRepository,
  ) {}

  onApplicationShutdown(): void {
    this.child.close();
  }

  /**
   * Takes a mail apart. Where all of it is too much, its beginning; where that is, too, its header.
   *
   * @param returnPath MAIL FROM where the server had it from; null where that is not known
   * @returns null for what is no mail
   * @throws Error where not even its header could be read
   */
  async read(raw: Buffer, returnPath: string | null): Promise<ReadMail | null> {
    const tries = [raw, ...BEGINNINGS_BYTES.map((bytes) => raw.subarray(0, bytes)), headerOf(raw)];
    let failure: unknown;
    for (const [index, part] of tries.entries()) {
      try {
        const read = await this.child.run<Omit<ReadMail, 'problem'> | null>({ raw: part, returnPath }, MAX_READ_MS);
        return read && { ...read, problem: index === 0 ? null : NOT_WHOLE };
      } catch (error) {
        failure = error;
        this.logger.warn(`A mail of ${part.length} bytes could not be read: ${(error as Error).message}`);
      }
    }
    throw failure;
  }

  /** What stands in the header of a mail; null for what is none. */
  async readHeader(raw: Buffer): Promise<OpenedMail | null> {
    const task: MailTask = { raw: headerOf(raw), returnPath: null };
    return (await this.child.run<Omit<ReadMail, 'problem'> | null>(task, MAX_READ_MS))?.mail ?? null;
  }

  /**
   * The message of somebody else without whatever runs or is loaded. Of a message of ours that it quotes, the image is gone
   * and the links lead to their own targets, so that reading it here counts as nobody's.
   *
   * @param urlOf what to show in the place of a picture that travels with it, by its Content-ID
   */
  async bodyOf(mail: OpenedMail, urlOf: ReadonlyMap<string, string>): Promise<ForeignBody> {
    const plain = bodyOfText(mail.text);
    if (mail.html === null) return { html: plain, problem: mail.problem && `${mail.problem} ${PLAIN_TEXT_ONLY}` };
    const pictures = new Map([...urlOf].map(([contentId, url]) => [`cid:${contentId}`, url]));
    const task = { html: mail.html, pictures, targets: this.ownTargets(mail.html) };
    try {
      return { html: await this.child.run<string>(task, MAX_CLEAN_MS), problem: null };
    } catch (error) {
      this.logger.warn(`The HTML of a mail could not be cleaned: ${(error as Error).message}`);
      return { html: plain, problem: `${NOT_CLEANED} ${PLAIN_TEXT_ONLY}` };
    }
  }

  /** Where our own links in a message lead. */
  private ownTargets(html: string): Map<string, string> {
    const { publicUrl } = this.config;
    const tokens = new Map<string, string>();
    for (let at = html.indexOf(publicUrl); at !== -1 && tokens.size < MAX_OWN_LINKS;) {
      const [path = ''] = /^[\w/.-]*/.exec(html.slice(at + publicUrl.length, at + publicUrl.length + 100))!;
      const named = parsePublicPath(path);
      if (named?.kind === 'link') tokens.set(named.token, publicUrl + path);
      at = html.indexOf(publicUrl, at + publicUrl.length);
    }
    const targets = this.messages.targetsOf([...tokens.keys()]);
    return new Map([...targets].map(([token, target]) => [tokens.get(token)!, target]));
  }
}

/** Up to the first empty line (RFC 5322, section 2.1), and no longer than any server takes it. */
function headerOf(raw: Buffer): Buffer {
  const beginning = raw.subarray(0, 64 * 1024);
  const ends = [beginning.indexOf('\r\n\r\n'), beginning.indexOf('\n\n')].filter((at) => at >= 0);
  return beginning.subarray(0, ends.length === 0 ? beginning.length : Math.min(...ends) + 2);
}
