import { existsSync, readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';
import { journalFolder, type Config } from '../environment/config.js';
import { reachedUrl } from '../environment/reachedHost.js';
import { writersOf } from '../journal/journalFiles.js';
import { claimant, claimDesk, claimDeskAfter } from '../store/deskClaim.js';
import type { Owner } from './owner.js';

/** A desk brings its database to its version before it listens; that was tried already. */
const HEALTHY_WITHIN_MS = 20_000;
const HEALTH_RETRY_MS = 100;

/** The processes that work on a data folder, which the supervisor starts again whenever they end. */
export class RunningDesk {
  constructor(
    private readonly config: Config,
    private readonly owner: Owner,
  ) {}

  /**
   * Ends the desk where one runs, and keeps others from working until it is let go.
   *
   * @returns whether Kiraku runs, also where its desk is only just being started again
   */
  async rest(): Promise<{ release: () => void; wasRunning: boolean }> {
    const release = await this.owner.does(() => claimDesk(this.config));
    if (release) return { release, wasRunning: this.publicSites().length > 0 };
    const asked = new Set<number>();
    const claimed = await claimDeskAfter(this.config, () => {
      const pid = claimant(this.config);
      if (pid === null || asked.has(pid) || !isDesk(pid)) return;
      asked.add(pid);
      end(pid);
    });
    return { release: claimed, wasRunning: true };
  }

  /** The public site is started again as the version that is in its place; who comes meanwhile waits for a moment. */
  renewPublicSite(): void {
    for (const pid of this.publicSites()) end(pid);
  }

  private publicSites(): number[] {
    return writersOf(journalFolder(this.config));
  }

  /** Whether the desk responds in time. */
  async isHealthy(): Promise<boolean> {
    const desk = reachedUrl(this.config.host, this.config.port);
    for (const deadline = Date.now() + HEALTHY_WITHIN_MS; Date.now() < deadline; await pause(HEALTH_RETRY_MS)) {
      const isOk = await fetch(`${desk}/health`).then(
        ({ ok }) => ok,
        () => false,
      );
      if (isOk) return true;
    }
    return false;
  }
}

/** The number may be that of a desk before this one, and another program’s by now: where the system says so, it is looked at. */
function isDesk(pid: number): boolean {
  try {
    return readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('bundle/main.js');
  } catch {
    return !existsSync('/proc/self');
  }
}

function end(pid: number): void {
  try {
    process.kill(pid, 'SIGTERM');
  } catch {
    // It has just ended by itself.
  }
}
