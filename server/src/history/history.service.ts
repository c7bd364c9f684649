import { randomUUID } from 'node:crypto';
import type { Readable } from 'node:stream';
import { setImmediate as others } from 'node:timers/promises';
import { Inject, Injectable, Logger, type BeforeApplicationShutdown, type OnModuleInit } from '@nestjs/common';
import type { HistoryImportRequest, HistoryStep, HistoryView } from '@kiraku/core/contract';
import { earlierMail, FoundMail, type EarlierMail } from '@kiraku/core/history';
import { addressKey } from '@kiraku/core/message';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { invalid, notFound, ProblemException } from '../http/problem.js';
import { MailReader } from '../messages/mailReader.js';
import { AccountService } from '../settings/account.service.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import { HistoryRepository, type ImportedMail } from './history.repository.js';
import { SentMail } from './sentMail.js';
import { Spool } from './spool.js';

/** So many are written in one transaction, and then others have their turn. */
const WRITTEN_AT_ONCE = 50;

/** What is done now. */
interface Job {
  step: Exclude<HistoryStep, 'none' | 'looked'>;
  progress: number;
  stopping: AbortController;
  over: Promise<void>;
}

/**
 * Imports mail that was sent before Kiraku: the files are taken in, looked through, and then imported, as people or as messages.
 * What is imported is written down in small parts, each of which can be undone; what was only looked through is forgotten when
 * the desk ends.
 */
@Injectable()
export class HistoryService implements OnModuleInit, BeforeApplicationShutdown {
  private readonly logger = new Logger(HistoryService.name);
  private readonly spool: Spool;
  private source = '';
  private found: FoundMail | null = null;
  private job: Job | null = null;
  private problem: string | null = null;

  constructor(
    @Inject(CONFIG) config: Config,
    private readonly repository: HistoryRepository,
    private readonly reader: MailReader,
    private readonly sentMail: SentMail,
    private readonly accounts: AccountService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
  ) {
    this.spool = new Spool(config);
  }

  onModuleInit(): void {
    this.spool.clear();
  }

  async beforeApplicationShutdown(): Promise<void> {
    await this.stop();
  }

  view(): HistoryView {
    const { job, source, problem } = this;
    const found = this.found?.view(this.own()) ?? null;
    const step = job?.step ?? (found ? 'looked' : 'none');
    return { step, source, progress: job?.progress ?? 0, found, problem, imports: this.repository.imports() };
  }

  /**
   * Takes a file in, or a piece of one: an mbox file, or one with a single mail.
   *
   * @param isMore whether it goes on with the file before
   */
  async add(name: string, isMore: boolean, bytes: Readable): Promise<void> {
    this.checkFree();
    if (this.found) this.forget();
    this.source = this.spool.bytes === 0 ? name : this.source;
    await this.spool.add(bytes, isMore).catch((error: unknown) => {
      this.forget();
      throw invalid(error instanceof Error ? error.message : String(error));
    });
  }

  /** Looks through what was taken in. */
  look(): void {
    this.checkFree();
    if (this.spool.bytes === 0) throw invalid('Choose files first.');
    this.begin('looking', (job) => this.lookThrough(job));
  }

  /** Fetches the mailbox’s folder of sent mail, and looks it through. */
  fetch(): void {
    this.checkFree();
    this.sentMail.check();
    this.forget();
    this.source = 'your mailbox';
    this.begin('fetching', async (job) => {
      await this.sentMail.fetch(this.spool, job.stopping.signal, (done) => (job.progress = done));
      job.step = 'looking';
      await this.lookThrough(job);
    });
  }

  import({ senders, withMessages }: HistoryImportRequest): void {
    this.checkFree();
    const { found } = this;
    if (!found) throw invalid('Choose files first.');
    const from = new Set(senders.map(addressKey));
    const importId = this.unit.commit(() => this.repository.begin(this.source, withMessages, this.clock.now()));
    this.begin('importing', async (job) => {
      await (withMessages ? this.importMessages(job, importId, from) : this.importPeople(job, importId, found, from));
      this.forget();
    });
  }

  /** Takes an import back. Who was written to since stays. */
  undo(importId: number): void {
    this.checkFree();
    const row = this.repository.imports().find(({ id }) => id === importId);
    if (!row) throw notFound('import');
    this.forget();
    this.source = row.source;
    this.begin('undoing', async (job) => {
      let removed = 0;
      for (let more = 1; more > 0 && !job.stopping.signal.aborted; await others()) {
        more = this.unit.commit(() => {
          this.unit.note('drafts');
          return this.repository.removeMessages(importId, WRITTEN_AT_ONCE);
        });
        removed += more;
        job.progress = row.messages === 0 ? 0 : removed / row.messages;
      }
      if (!job.stopping.signal.aborted) this.unit.commit(() => this.repository.remove(importId));
      this.forget();
    });
  }

  /** Ends what is done, and forgets what was taken in; what has been imported stays, and can be undone. */
  async stop(): Promise<void> {
    this.job?.stopping.abort();
    await this.job?.over;
    this.forget();
  }

  private begin(step: Job['step'], work: (job: Job) => Promise<void>): void {
    this.problem = null;
    const job: Job = { step, progress: 0, stopping: new AbortController(), over: Promise.resolve() };
    this.job = job;
    job.over = work(job)
      .catch((error: unknown) => {
        if (job.stopping.signal.aborted) return;
        this.logger.warn(`${job.step}: ${String(error)}`);
        this.problem = error instanceof Error ? error.message : String(error);
        this.forget();
      })
      .finally(() => (this.job = null));
  }

  private forget(): void {
    this.spool.clear();
    this.found = null;
    this.source = '';
  }

  private checkFree(): void {
    if (this.job) throw new ProblemException(409, 'Under way', 'Wait until this is done, or stop it.');
  }

  private async lookThrough(job: Job): Promise<void> {
    const found = new FoundMail();
    for await (const { mail } of this.mails(job, (raw) => this.reader.readHeader(raw))) {
      if (typeof mail === 'string') found.leaveOut(mail);
      else found.add(mail);
    }
    if (!job.stopping.signal.aborted) this.found = found;
  }

  private async importPeople(job: Job, importId: number, found: FoundMail, from: ReadonlySet<string>): Promise<void> {
    const people = found.peopleOf(from);
    for (let at = 0; at < people.length && !job.stopping.signal.aborted; at += WRITTEN_AT_ONCE) {
      this.unit.commit(() => {
        const now = this.clock.now();
        for (const person of people.slice(at, at + WRITTEN_AT_ONCE)) this.repository.addPerson(importId, person, now);
      });
      job.progress = at / people.length;
      await others();
    }
  }

  private async importMessages(job: Job, importId: number, from: ReadonlySet<string>): Promise<void> {
    let batch: ImportedMail[] = [];
    const write = () => {
      this.unit.commit(() => {
        this.repository.addMessages(importId, batch, this.clock.now());
        // Once for all: windows look again, and nobody is notified.
        this.unit.note('drafts');
      });
      batch = [];
    };
    const read = async (raw: Buffer) => (await this.reader.read(raw, null))?.mail ?? null;
    for await (const { mail, opened } of this.mails(job, read)) {
      if (typeof mail === 'string' || !opened || !from.has(addressKey(mail.from.address))) continue;
      const { html } = await this.reader.bodyOf(opened, new Map());
      const messageIdHeader = mail.messageIdHeader ?? `<${randomUUID()}@imported.invalid>`;
      if (!batch.some((one) => one.messageIdHeader === messageIdHeader)) batch.push({ ...mail, messageIdHeader, html });
      if (batch.length >= WRITTEN_AT_ONCE) write();
    }
    write();
  }

  /** Each mail that was taken in, or why it is left out. */
  private async *mails(job: Job, read: (raw: Buffer) => ReturnType<MailReader['readHeader']>) {
    for await (const { raw, readBytes } of this.spool.mails()) {
      if (job.stopping.signal.aborted) return;
      const opened = await read(raw).catch(() => null);
      job.progress = readBytes / this.spool.bytes;
      if (!opened?.from.address) yield { mail: 'unreadable' as const, opened: null };
      else yield { mail: this.judged(earlierMail(opened, this.clock.now())), opened };
    }
  }

  private judged(mail: ReturnType<typeof earlierMail>): EarlierMail | Extract<typeof mail, string> {
    if (typeof mail === 'string' || mail.messageIdHeader === null) return mail;
    return this.repository.isKnown(mail.messageIdHeader) ? 'known' : mail;
  }

  private own(): Set<string> {
    return new Set([addressKey(this.accounts.sender().address)]);
  }
}
