import type { JudgingView } from '@kiraku/core/contract';
import type { Network } from '@kiraku/core/tracking';
import { openToRead, type Database } from '../store/database.js';
import { settingOf } from '../store/settings.js';
import { networksFrom } from '../tracking/choices.js';
import { INVITATIONS_KEY, type Invitation } from '../tracking/invitations.js';
import { JUDGING_KEY } from '../tracking/statements.js';
import { Targets, type HitTarget, type Target } from '../tracking/targets.repository.js';

/** So long a database that could not be read is left alone. */
const OPEN_RETRY_MS = 1000;

/** The database cannot be read now: it is not there yet, or damaged, or of another version. */
export class UnreadableError extends Error {}

interface Opened {
  database: Database;
  targets: Targets;
  /** Changes whenever another process has written (SQLite, PRAGMA data_version). */
  version(): number;
}

/** What the public site reads of the database, which the desk alone writes. */
export class Snapshot {
  private opened: Opened | undefined;
  private failedAt = -Infinity;
  private proxiesRead: Network[] = [];
  private proxiesVersion: number | undefined;

  /** @param report is given why the database cannot be read */
  constructor(
    private readonly file: string,
    private readonly report: (error: unknown) => void,
  ) {}

  /**
   * What a token stands for; null where it is not known.
   *
   * @throws UnreadableError
   */
  target(target: HitTarget, token: string): Target | null {
    return this.ask(({ targets }) => targets.find(target, token));
  }

  /** @throws UnreadableError */
  read<T>(question: (database: Database) => T): T {
    return this.ask(({ database }) => question(database));
  }

  /**
   * The invitations that the desk gave out.
   *
   * @throws UnreadableError
   */
  invitations(): Invitation[] {
    return this.read((database) => settingOf<Invitation[]>(database, INVITATIONS_KEY)) ?? [];
  }

  /** Trusted proxies; as they were last where the database cannot be read. */
  proxies(): Network[] {
    try {
      this.ask(({ database, version }) => {
        const now = version();
        if (now === this.proxiesVersion) return;
        this.proxiesVersion = now;
        const judging = settingOf<Partial<JudgingView>>(database, JUDGING_KEY);
        this.proxiesRead = networksFrom(judging?.proxies ?? []);
      });
    } catch (error) {
      if (!(error instanceof UnreadableError)) throw error;
    }
    return this.proxiesRead;
  }

  close(): void {
    this.opened?.database.$client.close();
    this.opened = this.proxiesVersion = undefined;
  }

  private ask<T>(question: (opened: Opened) => T): T {
    if (performance.now() - this.failedAt < OPEN_RETRY_MS) throw new UnreadableError();
    try {
      return question((this.opened ??= open(this.file)));
    } catch (error) {
      if (this.opened && !(error as { code?: string }).code?.startsWith('SQLITE_')) throw error;
      this.close();
      this.failedAt = performance.now();
      this.report(error);
      throw new UnreadableError();
    }
  }
}

function open(file: string): Opened {
  const database = openToRead(file);
  try {
    const version = database.$client.prepare<[], number>('pragma data_version').pluck();
    return { database, targets: new Targets(database), version: () => version.get()! };
  } catch (error) {
    database.$client.close();
    throw error;
  }
}
