import { execFileSync } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';

/** What may stand in the folder of a version and is no part of it. */
const NOT_OF_A_VERSION = new Set(['.git', '.update', 'data', 'data-backup', 'kiraku.conf']);

/** A switch under way: the commits, null where git does not keep the versions; and whether it goes back. */
interface Switch {
  from: string | null;
  to: string | null;
  isBack: boolean;
}

/** The version in the program’s folder, the new one that is made ready beside it, and the exchange of both. */
export class Versions {
  private readonly gathered: string;
  /** The folder of the new version until it takes its place. */
  readonly next: string;
  /** What it took the place of. */
  private readonly before: string;
  /** The {@link Switch} while it is under way. */
  private readonly note: string;
  private switched: Switch | undefined;

  /** @param root the folder of the program */
  constructor(private readonly root: string) {
    this.gathered = join(root, '.update');
    this.next = join(this.gathered, 'next');
    this.before = join(this.gathered, 'before');
    this.note = join(this.gathered, 'switch.json');
  }

  /**
   * Gathers a new version beside the one that there is.
   *
   * @param named its folder; or a commit, a tag or a branch of git; undefined for the newest of this branch
   * @returns how it is called; null where it is the one that there is
   * @throws in words for whoever asked
   */
  gather(named: string | undefined): string | null {
    this.clear();
    mkdirSync(this.gathered, { mode: 0o755 });
    if (named !== undefined && existsSync(join(named, 'package.json'))) this.gatherFolder(resolve(named));
    else if (!this.gatherCommit(named)) return null;
    const { version } = JSON.parse(readFileSync(join(this.next, 'package.json'), 'utf8')) as { version: string };
    return version;
  }

  private gatherFolder(folder: string): void {
    for (const name of namesIn(folder))
      cpSync(join(folder, name), join(this.next, name), { recursive: true, verbatimSymlinks: true });
  }

  private gatherCommit(named: string | undefined): boolean {
    if (!this.isCheckout()) throw new Error('Name the folder of the new version after the command.');
    const changed = this.git('status', '--porcelain', '--untracked-files=no');
    if (changed !== '') throw new Error(`Files were changed here. Put them aside first, with “git stash”:\n${changed}`);
    this.git('fetch', '--quiet', '--tags');
    const [here, commit] = [this.git('rev-parse', 'HEAD'), this.git('rev-parse', `${named ?? '@{upstream}'}^{commit}`)];
    if (commit === here) return false;
    if (this.git('merge-base', here, commit) !== here)
      throw new Error(`${named ?? 'The newest version'} does not follow the one that is here.`);
    this.git('worktree', 'add', '--quiet', '--detach', this.next, commit);
    return true;
  }

  /** Puts the new version in the place of the one before. */
  switch(): void {
    mkdirSync(this.before);
    const isCommit = existsSync(join(this.next, '.git'));
    const [from, to] = [this.root, this.next].map((folder) =>
      isCommit ? this.git('-C', folder, 'rev-parse', 'HEAD') : null,
    ) as [string | null, string | null];
    this.switched = { from, to, isBack: false };
    this.exchange(this.switched);
  }

  /** Puts the version before back in its place, where it was taken from it. */
  back(): void {
    if (this.switched) this.exchange({ ...this.switched, isBack: true });
  }

  /** Ends an exchange that was broken off; whether one was. */
  finish(): boolean {
    if (!existsSync(this.note)) return false;
    this.exchange(JSON.parse(readFileSync(this.note, 'utf8')) as Switch);
    return true;
  }

  /** Lets go of what was gathered, unless it is needed to {@link finish}. */
  clear(): void {
    if (existsSync(this.note)) return;
    rmSync(this.gathered, { recursive: true, force: true });
    if (this.isCheckout()) this.git('worktree', 'prune');
  }

  /** A name after the other; done again, it goes on where it was broken off. */
  private exchange(what: Switch): void {
    writeFileSync(this.note, JSON.stringify(what), { flush: true });
    const [comes, goes] = what.isBack ? [this.before, this.next] : [this.next, this.before];
    for (const name of namesIn(comes)) {
      const [place, away] = [join(this.root, name), join(goes, name)];
      if (existsSync(place)) renameSync(place, away);
      renameSync(join(comes, name), place);
    }
    const commit = what.isBack ? what.from : what.to;
    if (commit !== null) this.git('reset', '--quiet', '--mixed', commit);
    rmSync(this.note);
  }

  private isCheckout(): boolean {
    return existsSync(join(this.root, '.git'));
  }

  private git(...args: string[]): string {
    try {
      return execFileSync('git', args, { cwd: this.root, encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] }).trim();
    } catch (error) {
      const { stderr } = error as { stderr?: string };
      throw new Error(`git ${args.join(' ')}: ${stderr?.trim() || (error as Error).message}`, { cause: error });
    }
  }
}

function namesIn(folder: string): string[] {
  return readdirSync(folder).filter((name) => !NOT_OF_A_VERSION.has(name));
}
