import { createReadStream, existsSync } from 'node:fs';
import { Readable } from 'node:stream';
import { Injectable, Logger } from '@nestjs/common';
import { ZipFile } from 'yazl';
import { ContentStore } from '../files/contentStore.js';
import { CalendarService } from '../following/calendar.service.js';
import { MailsService } from '../messages/mails.service.js';
import { PeopleFiles } from '../people/peopleFiles.js';
import { csvWriter, ExportRows, jsonLines } from '../reports/exportRows.js';
import { ListFilterQuery } from '../sent/list.dto.js';
import { ArchiveRepository } from './archive.repository.js';
import { mboxEntry } from '../mime/mbox.js';
import { ARCHIVE_README } from './readme.js';

/** Everything that is kept, in open formats that a stranger can read, as one file. */
@Injectable()
export class ArchiveService {
  private readonly logger = new Logger(ArchiveService.name);

  constructor(
    private readonly archive: ArchiveRepository,
    private readonly rows: ExportRows,
    private readonly people: PeopleFiles,
    private readonly mails: MailsService,
    private readonly calendar: CalendarService,
    private readonly contents: ContentStore,
  ) {}

  /** The archive as it is read: each part is begun when the one before has been read. */
  read(): Readable {
    const zip = new ZipFile();
    const all = new ListFilterQuery();
    const parts: Record<string, () => Readable> = {
      'README.txt': () => Readable.from([ARCHIVE_README]),
      'sent.mbox': () => Readable.from(this.mbox()),
      'messages.csv': () => Readable.from(this.rows.ofMessages(all)).pipe(csvWriter()),
      'messages.jsonl': () => Readable.from(jsonLines(this.rows.ofMessages(all))),
      'events.csv': () => Readable.from(this.rows.ofEvents(all)).pipe(csvWriter()),
      'events.jsonl': () => Readable.from(jsonLines(this.rows.ofEvents(all))),
      'incoming.jsonl': () => Readable.from(jsonLines(this.archive.incoming())),
      'people.csv': () => Readable.from(this.people.csv()),
      'people.vcf': () => Readable.from(this.people.cards()),
      'reminders.ics': () => Readable.from([this.calendar.feed()]),
      'templates.jsonl': () => Readable.from(jsonLines(this.archive.templates())),
    };
    for (const [name, read] of Object.entries(parts)) this.add(zip, name, read);
    // Their names lead nowhere: that is seen to when they are uploaded.
    for (const { fileId, number, name, sha256 } of this.archive.files()) {
      const path = this.contents.pathOf(sha256);
      if (existsSync(path)) this.add(zip, `files/${fileId}-${number}-${name}`, () => createReadStream(path));
    }
    zip.end();
    return zip.outputStream as Readable;
  }

  private add(zip: ZipFile, name: string, read: () => Readable): void {
    zip.addReadStreamLazy(name, { mtime: new Date(), mode: 0o100600 }, (give) => {
      const part = read();
      part.once('error', (error) => this.logger.error(`Archive, ${name}`, error.stack));
      give(null, part);
    });
  }

  private async *mbox(): AsyncGenerator<Buffer> {
    for (const { id, at, from } of this.archive.sent()) {
      // Of what was submitted, the original is not always kept.
      const mail = await this.mails.sentMail(id).catch(() => null);
      if (mail) yield Buffer.from(mboxEntry(from, at, mail.toString('latin1')), 'latin1');
    }
  }
}
