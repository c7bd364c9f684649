import { execFile, spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync, statSync } from 'node:fs';
import { statfs } from 'node:fs/promises';
import { text } from 'node:stream/consumers';
import { promisify } from 'node:util';
import { Inject, Injectable } from '@nestjs/common';
import {
  attention,
  backupFinding,
  clockFinding,
  diskFinding,
  failing,
  fine,
  notInUse,
  notKnown,
} from '@kiraku/core/checkup';
import type { Finding } from '@kiraku/core/contract';
import { failureSentence, notRecordedSentence, notRecordedTitle } from '@kiraku/core/sentences';
import { capital } from '@kiraku/core/time';
import { BackupService } from '../backup/backup.service.js';
import { Clock } from '../environment/clock.js';
import { CONFIG, databaseFile, type Config } from '../environment/config.js';
import { findConverter } from '../files/conversion.js';
import { programFile } from '../process/program.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { Processes } from '../work/processes.js';
import { Works } from '../work/works.js';
import type { Checks } from './check.js';

/** The server in one piece, and what it says of its version. */
const MAIN = new URL('../bundle/main.js', import.meta.url);
const PACKAGE = new URL('../../package.json', import.meta.url);

/** What Kiraku stands on, and what it does by itself. */
@Injectable()
export class MachineChecks {
  readonly checks: Checks = {
    work: () => this.work(),
    backup: () => this.backup(),
    database: (signal) => this.database(signal),
    disk: () => this.disk(),
    clock: () => this.clockOfMachine(),
    office: () => this.office(),
    version: () => this.version(),
  };

  constructor(
    @Inject(CONFIG) private readonly config: Config,
    private readonly works: Works,
    private readonly processes: Processes,
    private readonly backups: BackupService,
    private readonly events: EventsRepository,
    private readonly clock: Clock,
  ) {}

  private work(): Finding {
    const now = this.clock.now();
    const { notRecorded } = this.processes.view();
    if (notRecorded) return failing(`${notRecordedTitle(notRecorded)}.`, notRecordedSentence(notRecorded, now));
    const [failed] = this.works.views().flatMap(({ name, lastError }) => (lastError ? [{ name, ...lastError }] : []));
    if (!failed) return fine('Everything that goes on in the background works.');
    return failing(
      `${capital(failed.name)}: ${failureSentence(failed, now)}`,
      'It is tried again by itself. If it stays so, look into the log.',
    );
  }

  private backup(): Finding {
    const { hasPassphrase, backups, lastError } = this.backups.view();
    return backupFinding(hasPassphrase, backups[0]?.at ?? null, lastError?.text ?? null, this.clock.now());
  }

  /** In a program of its own: on a large database it takes a minute. */
  private async database(signal: AbortSignal): Promise<Finding> {
    const child = spawn(process.execPath, [programFile('checkDatabase'), databaseFile(this.config)], {
      env: { ...process.env, NODE_OPTIONS: '' },
      stdio: ['ignore', 'pipe', 'ignore'],
      signal,
    });
    const [found] = await Promise.all([text(child.stdout), once(child, 'close')]);
    if (found.trim() === 'ok') return fine('The database is whole.');
    return failing(
      `The database is damaged: ${found.trim() || 'it cannot be opened'}.`,
      'Check the disk, and restore the newest backup.',
    );
  }

  private async disk(): Promise<Finding> {
    const { bavail, bsize, blocks } = await statfs(this.config.dataDir);
    return diskFinding({ free: bavail * bsize, all: blocks * bsize });
  }

  /** What happened cannot have happened later than now; and the system knows whether the network sets its clock. */
  private async clockOfMachine(): Promise<Finding> {
    const behind = (this.events.lastAt() ?? 0) - this.clock.now();
    if (behind > 0 && clockFinding(-behind).state === 'failing') return clockFinding(-behind);
    const said = await promisify(execFile)('timedatectl', ['show', '-p', 'NTPSynchronized', '--value']).catch(
      () => null,
    );
    if (said === null) return notKnown('This system does not say whether its clock is set by the network.');
    if (said.stdout.trim() === 'yes') return clockFinding(0);
    return attention('The clock of this machine is not set by the network.', 'Switch NTP on, so that times are right.');
  }

  private office(): Finding {
    if (findConverter() !== null) return fine('LibreOffice turns slides and documents into pages.');
    return notInUse(
      'LibreOffice is not on this machine: slides and documents can be downloaded, and not read by page.',
    );
  }

  private version(): Finding {
    const { version } = JSON.parse(readFileSync(PACKAGE, 'utf8')) as { version: string };
    const detail = `Kiraku ${version} on Node.js ${process.versions.node}.`;
    const isOlder = statSync(MAIN).mtimeMs > this.clock.now() - process.uptime() * 1000;
    return isOlder
      ? attention(detail, 'Another version has been built since it started: start Kiraku again.')
      : fine(detail);
  }
}
