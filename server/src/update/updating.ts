import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { BackupSettings } from '../backup/backup.settings.js';
import { databaseFile, type Config } from '../environment/config.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import { openToRead } from '../store/database.js';
import { DatabaseBefore } from './databaseBefore.js';
import { Owner } from './owner.js';
import { RunningDesk } from './runningDesk.js';
import { Versions } from './versions.js';

const PROGRAMS = 'server/dist/bundle';
/** Of what a step wrote that failed. */
const FAILURE_WORDS_CHARS = 2000;

/**
 * Takes a new version in. It is made ready beside the other, and tried on a copy of the database. Only then the desk rests for
 * some seconds: the versions change places, the database is brought to the new one, and all starts again; the public site
 * responds meanwhile. Where a step fails, the version before goes on with the database as it was.
 */
export class Updating {
  private readonly versions: Versions;
  private readonly owner: Owner;
  private readonly before: DatabaseBefore;
  private readonly desk: RunningDesk;
  /** Whether the database as it was is kept for whoever mends it by hand. */
  private mustKeep = false;

  /**
   * @param root the folder of the program
   * @param say tells whoever waits what is done now
   */
  constructor(
    private readonly config: Config,
    private readonly root: string,
    private readonly say: (text: string) => void,
  ) {
    this.versions = new Versions(root);
    this.owner = new Owner(config.dataDir);
    this.before = new DatabaseBefore(config);
    this.desk = new RunningDesk(config, this.owner);
  }

  /**
   * @param named see {@link Versions.gather}
   * @throws in words for whoever asked
   */
  async run(named: string | undefined): Promise<void> {
    if (this.versions.finish()) await this.startAgain();
    this.say('Looking for a new version …');
    const version = this.versions.gather(named);
    if (version === null) return this.say('This is the newest version.');
    try {
      this.say(`Making version ${version} ready …`);
      await this.node([join(this.versions.next, 'scripts/prepare.mjs')], { cwd: this.versions.next });
      await this.backUp();
      this.say('Trying it on a copy of your data …');
      await this.owner.does(() => this.before.copyForTrial());
      await this.bring(this.versions.next, this.before.trial, 'desk');
      this.say('Changing to it …');
      await this.change(version);
    } finally {
      this.versions.clear();
      if (!this.mustKeep) await this.owner.does(() => this.before.clear());
    }
  }

  private async startAgain(): Promise<void> {
    this.say('An update that was broken off is finished first.');
    const { release } = await this.desk.rest();
    release();
    this.desk.renewPublicSite();
  }

  private async backUp(): Promise<void> {
    if (!(await this.owner.does(() => this.hasBackups())))
      return this.say('No backup is made, since no passphrase is chosen for backups.');
    this.say('Making a backup …');
    await this.node([join(this.root, PROGRAMS, 'makeBackup.js')], this.owner.ids);
  }

  private hasBackups(): boolean {
    const database = openToRead(databaseFile(this.config));
    try {
      return new BackupSettings(this.config, new SettingsRepository(database)).sealedKey() !== undefined;
    } finally {
      database.$client.close();
    }
  }

  private async change(version: string): Promise<void> {
    const { release, wasRunning } = await this.desk.rest();
    try {
      await this.owner.does(() => this.before.keep());
      this.versions.switch();
      await this.bring(this.root, this.config.dataDir);
      await this.owner.does(() => this.before.noteMigrated());
    } catch (error) {
      await this.owner.does(() => this.before.putBack());
      this.versions.back();
      throw new Error(`${(error as Error).message}\nThe version before goes on.`, { cause: error });
    } finally {
      release();
    }
    if (!wasRunning) return this.say(`Version ${version} is in its place. Start it with: npm start`);
    this.desk.renewPublicSite();
    if (!(await this.desk.isHealthy())) await this.goBack(version);
    this.say(`Version ${version} runs.`);
  }

  /** Where it was tried well, and does not start in its place all the same. */
  private async goBack(version: string): Promise<never> {
    const { release } = await this.desk.rest();
    const canGoBack = await this.owner.does(() => this.before.putBack());
    if (canGoBack) this.versions.back();
    this.mustKeep = !canGoBack;
    release();
    this.desk.renewPublicSite();
    throw new Error(
      canGoBack
        ? `Version ${version} does not start: the log says why. The version before goes on.`
        : `Version ${version} does not start: the log says why. It stays, since it has written to the database in its own way. ` +
            `The database as it was before is ${this.before.kept}.`,
    );
  }

  /** Has a version bring the database of a data folder to its schema, and try a desk on it where that is wanted. */
  private bring(folder: string, dataDir: string, ...args: 'desk'[]): Promise<void> {
    const env = { ...process.env, KIRAKU_DATA: dataDir };
    return this.node([join(folder, PROGRAMS, 'tryVersion.js'), ...args], { ...this.owner.ids, env });
  }

  private async node(args: string[], options: { cwd?: string; env?: NodeJS.ProcessEnv; uid?: number }): Promise<void> {
    const child = spawn(process.execPath, args, { ...options, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (chunk: Buffer) => (output = (output + chunk.toString()).slice(-FAILURE_WORDS_CHARS)));
    const [code] = (await once(child, 'close')) as [number | null];
    if (code !== 0) throw new Error(output.trim() || `${args.join(' ')} ended with ${code ?? 'a signal'}.`);
  }
}
