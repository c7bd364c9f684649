import { existsSync } from 'node:fs';
import { open, rename, rm } from 'node:fs/promises';
import { Inject, Injectable } from '@nestjs/common';
import { DAY, SECOND } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { CONFIG, type Config } from '../environment/config.js';
import { SettingsRepository } from '../settings/settings.repository.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { linkLine, recentLinks, sortedLinks } from './linkFile.js';
import { LinksRepository } from './links.repository.js';

const WRITTEN = 'links.written';
/** What leaves is in the files so soon. */
const COMMIT_PAUSE_MS = 2 * SECOND;
const ROWS_PER_READ = 2000;

interface Written {
  /** The links of all copies up to this one are in the files. */
  copyId: number;
  sortedAt: number;
}

/**
 * Writes down beside the database where links lead: as messages leave, and once a day all of them anew, without those that
 * are gone.
 */
@Injectable()
export class LinkFiles {
  private readonly due: DueWork;
  /** Since a run that is under way began: what it has written is not to be taken for all. */
  private isStale = false;

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly links: LinksRepository,
    private readonly settings: SettingsRepository,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.due = works.add({
      name: 'file of links',
      commitPauseMs: COMMIT_PAUSE_MS,
      run: (stopping) => this.write(stopping),
    });
  }

  /** Writes all of them anew: somebody is not to be found in the files any more. */
  renew(): void {
    this.isStale = true;
    this.settings.remove(WRITTEN);
    this.due.wake();
  }

  private async write(stopping: AbortSignal): Promise<number> {
    const now = this.clock.now();
    const written = this.settings.get<Written>(WRITTEN);
    const isSorted = written && existsSync(sortedLinks(this.config.dataDir));
    if (this.isStale || !isSorted || now >= written.sortedAt + DAY) {
      const copyId = this.links.lastCopyId();
      this.isStale = false;
      await this.sortAll(stopping);
      if (!stopping.aborted) this.note({ copyId, sortedAt: now });
      return now + DAY;
    }
    const copyId = this.links.lastCopyId();
    if (copyId > written.copyId) {
      await this.add(written.copyId);
      this.note({ ...written, copyId });
    }
    return written.sortedAt + DAY;
  }

  private note(written: Written): void {
    if (!this.isStale) this.settings.set(WRITTEN, written);
  }

  private async sortAll(stopping: AbortSignal): Promise<void> {
    const target = sortedLinks(this.config.dataDir);
    const file = await open(`${target}.new`, 'w', 0o600);
    try {
      for (let last = ''; !stopping.aborted;) {
        const rows = this.links.afterToken(last, ROWS_PER_READ);
        if (rows.length === 0) break;
        await file.write(rows.map(({ token, url }) => linkLine(token, url)).join(''));
        last = rows.at(-1)!.token;
      }
      await file.sync();
    } finally {
      await file.close();
    }
    if (stopping.aborted) return;
    await rename(`${target}.new`, target);
    // What left meanwhile is added after this: its copies are newer than those that were asked for before.
    await rm(recentLinks(this.config.dataDir), { force: true });
  }

  private async add(after: number): Promise<void> {
    const rows = this.links.afterCopy(after);
    const file = await open(recentLinks(this.config.dataDir), 'a', 0o600);
    try {
      await file.write(rows.map(({ token, url }) => linkLine(token, url)).join(''));
      await file.sync();
    } finally {
      await file.close();
    }
  }
}
