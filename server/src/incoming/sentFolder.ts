import { Injectable } from '@nestjs/common';
import type { ImapFlow } from 'imapflow';
import { messageIdsIn } from '@kiraku/core/incoming';
import { DAY } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { MailsService } from '../messages/mails.service.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { foldersOf } from './imap.js';
import { MailboxRepository } from './mailbox.repository.js';
import { MailboxSettings } from './mailbox.settings.js';

/** What left longer ago is not put into the folder of sent mail any more. */
const STORED_WITHIN_MS = 7 * DAY;
const STORED_SINCE = 'mailbox.storedSince';
const MESSAGES_PER_FETCH = 200;

/** The mailbox’s folder of sent mail. */
@Injectable()
export class SentFolder {
  constructor(
    private readonly settings: MailboxSettings,
    private readonly store: SettingsRepository,
    private readonly repository: MailboxRepository,
    private readonly mails: MailsService,
    private readonly clock: Clock,
  ) {}

  /** What leaves from now on is put there, where the user wants it. */
  begin(): void {
    if (this.settings.view().storesSent)
      this.store.set(STORED_SINCE, this.store.get<number>(STORED_SINCE) ?? this.clock.now());
  }

  /** Puts the clean copy of what left into the folder of sent mail, unless the server did so itself. */
  async fill(client: ImapFlow): Promise<void> {
    const { storesSent } = this.settings.view();
    const storedSince = this.store.get<number>(STORED_SINCE);
    if (!storesSent || storedSince === undefined) return;
    const ids = this.repository.unstored(
      Math.max(storedSince, this.clock.now() - STORED_WITHIN_MS),
      MESSAGES_PER_FETCH,
    );
    if (ids.length === 0) return;
    const sent = (await foldersOf(client)).find(({ isSent }) => isSent);
    if (!sent) return;
    await client.mailboxOpen(sent.path, { readOnly: true });
    for (const id of ids) {
      const raw = await this.mails.sentMail(id);
      const [messageId] = messageIdsIn(
        /^message-id:[^\r\n]*(\r?\n[ \t][^\r\n]*)?/im.exec(raw.toString('latin1'))?.[0] ?? '',
      );
      const there = messageId ? await client.search({ header: { 'message-id': messageId } }, { uid: true }) : [];
      if (!there || there.length === 0) await client.append(sent.path, raw, ['\\Seen']);
      this.repository.setStored(id);
    }
  }
}
