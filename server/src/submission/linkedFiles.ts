import { Injectable } from '@nestjs/common';
import type { DraftFile } from '@kiraku/core/contract';
import { AS_LINK } from '@kiraku/core/files';
import { FilesService, type CarriedFile } from '../files/files.service.js';
import { FilesSettings } from '../files/files.settings.js';
import { whyUntracked } from '../messages/submittedMessage.js';
import { attachmentsOf, withoutParts } from '../mime/attachments.js';
import { splitMail, type SplitMail } from '../mime/split.js';

/** Attachments of mails that were submitted, as links. */
@Injectable()
export class LinkedFiles {
  constructor(
    private readonly files: FilesService,
    private readonly settings: FilesSettings,
  ) {}

  /** The mail with those attachments taken out that are to travel as links. What may not be changed stays as it is. */
  async withLinks(raw: Buffer, mail: SplitMail): Promise<{ mail: SplitMail; files: CarriedFile[] }> {
    const { kinds, fromBytes } = this.settings.view().submitted;
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
}
