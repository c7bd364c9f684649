import { Readable } from 'node:stream';
import { Injectable } from '@nestjs/common';
import { foldersOf, imapClient, imapProblem } from '../incoming/imap.js';
import { MAX_MAIL_BYTES } from '../incoming/largeMail.js';
import { MailboxSettings } from '../incoming/mailbox.settings.js';
import { invalid } from '../http/problem.js';
import type { Spool } from './spool.js';

/** The mailbox’s folder of sent mail, which is only read. */
@Injectable()
export class SentMail {
  constructor(private readonly settings: MailboxSettings) {}

  /** @throws 422 where no mailbox is named */
  check(): void {
    if (this.settings.view().way !== 'imap')
      throw invalid('Name your mailbox in Settings, Replies and receipts first, or export the folder to a file.');
  }

  /**
   * Fetches all mails of the folder.
   *
   * @param progress is called with how much has come, from 0 to 1
   * @throws in words for whoever waits
   */
  async fetch(spool: Spool, stopping: AbortSignal, progress: (done: number) => void): Promise<void> {
    const access = this.settings.access();
    const client = imapClient(access);
    const stop = () => client.close();
    stopping.addEventListener('abort', stop);
    try {
      await client.connect();
      const sent = (await foldersOf(client)).find(({ isSent }) => isSent);
      if (!sent) throw new NoFolderError('The mailbox says of no folder that sent mail is in it. Export it to a file.');
      const { exists } = await client.mailboxOpen(sent.path, { readOnly: true });
      let done = 0;
      if (exists > 0)
        for await (const { source } of client.fetch('1:*', { source: { maxLength: MAX_MAIL_BYTES } })) {
          stopping.throwIfAborted();
          if (source) await spool.add(Readable.from([source]));
          progress((done += 1) / exists);
        }
      await client.logout();
    } catch (error) {
      client.close();
      if (stopping.aborted || error instanceof NoFolderError) throw error;
      throw new Error(imapProblem(access, error), { cause: error });
    } finally {
      stopping.removeEventListener('abort', stop);
    }
  }
}

class NoFolderError extends Error {}
