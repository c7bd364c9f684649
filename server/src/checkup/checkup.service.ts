import { Injectable, Logger } from '@nestjs/common';
import { notKnown, worstFirst } from '@kiraku/core/checkup';
import { CHECK_NAMES, type CheckName, type CheckView, type CheckupView, type Finding } from '@kiraku/core/contract';
import { HOUR, SECOND } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { NotificationsSettings } from '../notifications/notifications.settings.js';
import { SessionService } from '../session/session.service.js';
import { ChecksRepository } from '../settings/checks.repository.js';
import { UnitOfWork } from '../store/unitOfWork.js';
import type { DueWork } from '../work/dueWork.js';
import { Works } from '../work/works.js';
import { AllChecks } from './allChecks.js';

const CHECKUP_EVERY_MS = 6 * HOUR;
/** What has just been started is not yet as it will be: the mailbox has not been read, nothing has failed. */
const FIRST_AFTER_MS = 60 * SECOND;
/** What has not answered by then does not. */
const MAX_CHECK_MS = 30 * SECOND;

/** Finds out by itself, and when it is asked to, what does not work, and says so. */
@Injectable()
export class CheckupService {
  private readonly logger = new Logger(CheckupService.name);
  private readonly due: DueWork;
  private readonly firstAt: number;
  private isWanted = false;
  private isUnderWay = false;
  private lastAt: number | null = null;

  constructor(
    private readonly all: AllChecks,
    private readonly found: ChecksRepository,
    private readonly notifications: NotificationsSettings,
    private readonly sessions: SessionService,
    private readonly unit: UnitOfWork,
    private readonly clock: Clock,
    works: Works,
  ) {
    this.firstAt = clock.now() + FIRST_AFTER_MS;
    this.due = works.add({ name: 'check-up', run: (stopping) => this.run(stopping) });
  }

  view(): CheckupView {
    const isUnderWay = this.isUnderWay || this.isWanted;
    return { isUnderWay, checks: worstFirst(this.found.all()), reachUrl: this.all.reachUrl() };
  }

  /** Checks everything now. */
  request(): void {
    this.isWanted = true;
    void this.wake();
  }

  /** Checks what is due. Resolves when nothing is being checked. */
  wake(): Promise<void> {
    this.due.wake();
    return this.due.idle();
  }

  private async run(stopping: AbortSignal): Promise<number | null> {
    if (!this.sessions.isSetUp()) return null;
    const now = this.clock.now();
    const next = this.lastAt === null ? this.firstAt : this.lastAt + CHECKUP_EVERY_MS;
    if (!this.isWanted && next > now) return next;
    this.isWanted = false;
    this.isUnderWay = true;
    try {
      await Promise.all(CHECK_NAMES.map((name) => this.check(name, stopping)));
      this.lastAt = this.clock.now();
    } finally {
      this.isUnderWay = false;
    }
    return this.lastAt + CHECKUP_EVERY_MS;
  }

  private async check(name: CheckName, stopping: AbortSignal): Promise<void> {
    const finding = await this.find(name, AbortSignal.any([stopping, AbortSignal.timeout(MAX_CHECK_MS)]));
    if (!stopping.aborted) this.note(name, finding);
  }

  private async find(name: CheckName, signal: AbortSignal): Promise<Finding> {
    try {
      return await Promise.race([this.all.checks[name](signal), late(signal)]);
    } catch (error) {
      if (!signal.aborted) this.logger.warn(`${name}: ${String(error)}`);
      return notKnown(`It could not be found out: ${error instanceof Error ? error.message : String(error)}.`);
    }
  }

  /** What turns bad notifies; what was bad before does not, once more. */
  private note(name: CheckName, finding: Finding): void {
    this.unit.commit(() => {
      const at = this.clock.now();
      const before = this.found.find(name);
      const since = before?.state === finding.state ? before.since : at;
      this.found.save(name, finding, { since, at });
      if (!turnedBad(before, finding)) return;
      this.unit.note({ checkName: name });
      if (this.notifications.view().channels.check_failed.includes('email')) this.found.setEmailPending(name, true);
    });
  }
}

/** Rejects when the time is over, also where a check does not look at it. */
function late(signal: AbortSignal): Promise<never> {
  return new Promise((_resolve, reject) => {
    signal.addEventListener('abort', () => reject(new Error('It did not respond in time')), { once: true });
  });
}

function turnedBad(before: CheckView | undefined, { state }: Finding): boolean {
  return state === 'failing' && before !== undefined && before.state !== 'failing';
}
