import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { text } from 'node:stream/consumers';
import { Inject, Injectable, Logger, type OnModuleDestroy, type OnModuleInit } from '@nestjs/common';
import type { Subscription } from 'rxjs';
import { nextBackupAt } from '@kiraku/core/backup';
import type { BackupEntry, BackupView } from '@kiraku/core/contract';
import { HOUR } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { ErasuresRepository } from '../people/erasures.repository.js';
import { PersonDataService } from '../people/personData.service.js';
import { programFile } from '../process/program.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { BackupSettings } from './backup.settings.js';
import { backupsOf, noteErasures, readNote, type Backup } from './backupFolder.js';

/** After one that failed: a full disk is not filled again each minute. */
const BACKUP_RETRY_MS = HOUR;

/** A backup each night, and when it is asked for: made by a program of its own, so that nobody waits for it. */
@Injectable()
export class BackupService implements OnModuleInit, OnModuleDestroy {
  private readonly logger = new Logger(BackupService.name);
  private readonly due: DueWork;
  private readonly entries = new Map<string, BackupEntry>();
  private erased: Subscription | undefined;
  private isWanted = false;
  private isUnderWay = false;
  private lastError: BackupView['lastError'] = null;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly settings: BackupSettings,
    private readonly erasures: ErasuresRepository,
    private readonly people: PersonDataService,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({ name: 'backup', run: (stopping) => this.run(stopping) });
  }

  onModuleInit(): void {
    this.erased = this.people.erased.subscribe(() => void this.noteErasures());
  }

  onModuleDestroy(): void {
    this.erased?.unsubscribe();
  }

  view(): BackupView {
    const { isUnderWay, lastError } = this;
    const hasPassphrase = this.settings.sealedKey() !== undefined;
    return {
      folder: this.config.backupDir,
      hasPassphrase,
      isUnderWay,
      nextAt: hasPassphrase ? this.nextAt() : null,
      lastError,
      backups: backupsOf(this.config.backupDir).flatMap((backup) => this.entry(backup) ?? []),
    };
  }

  /** Makes one now. */
  request(): void {
    this.isWanted = true;
    this.due.wake();
  }

  private async run(stopping: AbortSignal): Promise<number | null> {
    if (this.settings.sealedKey() === undefined) return null;
    const next = this.nextAt();
    if (next > this.clock.now()) return next;
    this.isWanted = false;
    this.isUnderWay = true;
    try {
      await this.make(stopping);
      this.lastError = null;
    } catch (error) {
      if (stopping.aborted) return null;
      this.logger.error(error instanceof Error ? error.message : error);
      this.lastError = { at: this.clock.now(), text: error instanceof Error ? error.message : String(error) };
    } finally {
      this.isUnderWay = false;
    }
    return this.nextAt();
  }

  private nextAt(): number {
    const now = this.clock.now();
    if (this.isWanted) return now;
    const lastAt = backupsOf(this.config.backupDir)[0]?.at ?? null;
    const next = nextBackupAt(lastAt, now);
    return this.lastError ? Math.max(next, this.lastError.at + BACKUP_RETRY_MS) : next;
  }

  /** @throws with what the program said last where it could not */
  private async make(stopping: AbortSignal): Promise<void> {
    const { dataDir, backupDir, backupCommand } = this.config;
    const child = spawn(process.execPath, [programFile('makeBackup')], {
      env: {
        ...process.env,
        NODE_OPTIONS: '',
        KIRAKU_DATA: dataDir,
        KIRAKU_BACKUP: backupDir,
        KIRAKU_BACKUP_COMMAND: backupCommand ?? '',
      },
      stdio: ['ignore', 'ignore', 'pipe'],
      signal: stopping,
    });
    const [said, [code]] = await Promise.all([text(child.stderr), once(child, 'close') as Promise<[number | null]>]);
    if (code !== 0) throw new Error(lastWords(said) || `It ended with ${code ?? 'a signal'}.`);
  }

  /** Whoever is erased now is erased again where a backup from before is restored. */
  private async noteErasures(): Promise<void> {
    await noteErasures(this.config.backupDir, this.erasures.all()).catch((error: unknown) =>
      this.logger.error('The folder of backups does not know who was erased', String(error)),
    );
  }

  /** What a backup has never changes. Undefined where it cannot be read. */
  private entry(backup: Backup): BackupEntry | undefined {
    const known = this.entries.get(backup.name);
    if (known) return known;
    try {
      const { counts, database, files } = readNote(this.config.backupDir, backup);
      const { messages, people, events } = counts;
      const bytes = files.reduce((sum, { size }) => sum + size, database.size);
      const entry = { ...backup, bytes, messages, people, events };
      this.entries.set(backup.name, entry);
      return entry;
    } catch (error) {
      this.logger.warn(`The backup ${backup.name} cannot be read: ${String(error)}`);
      return undefined;
    }
  }
}

/** What a program that has failed said of it. */
function lastWords(said: string): string | undefined {
  return /^\w*Error: .*$/m.exec(said)?.[0] ?? said.trim().split('\n').at(-1);
}
