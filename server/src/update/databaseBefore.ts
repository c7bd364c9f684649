import { copyFileSync, createReadStream, existsSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { copyDatabase } from '../backup/copiedDatabase.repository.js';
import { databaseFile, type Config } from '../environment/config.js';
import { sha256Of } from '../files/contentStore.js';
import { KEY_NAME } from '../settings/secrets.js';
import { migrationsOf } from '../store/database.js';

/** The database as the version before has it: it is tried on a copy of it, and put back where the new version fails. */
export class DatabaseBefore {
  private readonly file: string;
  private readonly folder: string;
  /** Where it stands as it was. */
  readonly kept: string;
  /** A data folder with a copy of the database. */
  readonly trial: string;
  /** How the new version has left it. */
  private migrated: { sha256: string; isOtherSchema: boolean } | undefined;

  constructor(private readonly config: Pick<Config, 'dataDir'>) {
    this.file = databaseFile(config);
    this.folder = join(config.dataDir, 'updating');
    this.kept = join(this.folder, basename(this.file));
    this.trial = join(this.folder, 'trial');
  }

  /** Makes the data folder for the trial: a copy of the database and of the key, and nothing else. */
  async copyForTrial(): Promise<void> {
    const { dataDir } = this.config;
    this.clear();
    mkdirSync(this.trial, { recursive: true, mode: 0o700 });
    await copyDatabase({ dataDir }, databaseFile({ dataDir: this.trial }));
    if (existsSync(join(dataDir, KEY_NAME))) copyFileSync(join(dataDir, KEY_NAME), join(this.trial, KEY_NAME));
  }

  /** Keeps it as it is; nobody writes to it meanwhile. */
  async keep(): Promise<void> {
    rmSync(this.trial, { recursive: true });
    const part = `${this.kept}.part`;
    await copyDatabase(this.config, part);
    renameSync(part, this.kept);
  }

  /** Notes how the new version has left it, before it is used. */
  async noteMigrated(): Promise<void> {
    const isOtherSchema = migrationsOf(this.kept) !== migrationsOf(this.file);
    this.migrated = { sha256: await this.sha256(), isOtherSchema };
  }

  /**
   * Makes the database one that the version before can use.
   *
   * @returns whether that could be done without losing anything: what the new version has written since is in its own schema
   */
  async putBack(): Promise<boolean> {
    if (!existsSync(this.kept) || this.migrated?.isOtherSchema === false) return true;
    if (this.migrated && (this.hasLog() || (await this.sha256()) !== this.migrated.sha256)) return false;
    for (const beside of ['-wal', '-shm']) rmSync(this.file + beside, { force: true });
    renameSync(this.kept, this.file);
    return true;
  }

  /** Lets go of what was kept. */
  clear(): void {
    rmSync(this.folder, { recursive: true, force: true });
  }

  private hasLog(): boolean {
    return (statSync(`${this.file}-wal`, { throwIfNoEntry: false })?.size ?? 0) > 0;
  }

  private sha256(): Promise<string> {
    return sha256Of(createReadStream(this.file));
  }
}
