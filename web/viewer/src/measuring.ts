import type { ReadingReport, ViewerFile } from '@kiraku/core/contract';
import {
  advance,
  FILE_LIMITS,
  REPORT_EVERY_MS,
  startReading,
  visitsOf,
  type ClockEvent,
  type Medium,
  type ReadingClock,
} from '@kiraku/core/files';

const TICK_MS = 500;
/** Before the next report, by how many did not arrive. */
const WAIT_MS = [0, 2000, 5000, 15_000, 30_000];
const ACTS = ['pointerdown', 'pointermove', 'wheel', 'touchmove', 'keydown'] as const;

/**
 * Measures reading, and reports it: as soon as a page is read, every few seconds while it is, when it is turned, and
 * when the window goes. Reports say how much it is by now, so that one that is lost is made good by the next.
 */
export class Measuring {
  private clock: ReadingClock | undefined;
  /** How much of each visit has arrived. */
  private readonly arrived = new Map<number, number>();
  private hasReportedActing = false;
  private reportedAt = -Infinity;
  private failures = 0;
  private isUnderway = false;
  private isOver = false;

  constructor(
    private readonly report: ViewerFile['report'],
    private readonly medium: Medium,
  ) {}

  /** From the moment when there is something to read. */
  start(page = 1): void {
    if (!this.report || this.clock) return;
    const window = { visible: isVisible(), focused: document.hasFocus() };
    this.clock = startReading(performance.now(), window, page);
    for (const act of ACTS)
      addEventListener(act, (event) => event.isTrusted && this.happens({ kind: 'activity' }), {
        passive: true,
        capture: true,
      });
    addEventListener('focus', () => this.happens({ kind: 'focused', is: true }));
    addEventListener('blur', () => this.happens({ kind: 'focused', is: false }));
    addEventListener('online', () => this.send());
    document.addEventListener('visibilitychange', () => {
      this.happens({ kind: 'visible', is: isVisible() });
      if (!isVisible()) this.reportAtLast();
    });
    addEventListener('pagehide', () => this.reportAtLast());
    setInterval(() => this.happens({ kind: 'tick' }), TICK_MS);
  }

  happens(clockEvent: ClockEvent): void {
    if (!this.clock) return;
    this.clock = advance(this.clock, performance.now(), clockEvent, this.medium);
    if (this.isTimeToReport(clockEvent)) this.send();
  }

  private isTimeToReport({ kind }: ClockEvent): boolean {
    const visits = visitsOf(this.clock!);
    const waited = performance.now() - this.reportedAt;
    if (waited < WAIT_MS[Math.min(this.failures, WAIT_MS.length - 1)]!) return false;
    const isNew = visits.some(({ visit }) => !this.arrived.has(visit));
    return isNew || kind === 'page' || (waited >= REPORT_EVERY_MS && this.unreported().visits.length > 0);
  }

  private unreported(): ReadingReport {
    // Of very many, the rest is reported with the next.
    const visits = visitsOf(this.clock!)
      .filter(({ visit, ms }) => this.arrived.get(visit) !== ms)
      .slice(-FILE_LIMITS.maxVisitsPerReport);
    return { reading: this.report!.reading, active: this.clock!.active, visits };
  }

  private send(): void {
    const report = this.unreported();
    const hasNews = report.visits.length > 0 || (report.active && !this.hasReportedActing);
    if (this.isUnderway || this.isOver || !hasNews) return;
    this.isUnderway = true;
    this.reportedAt = performance.now();
    fetch(this.report!.url, { method: 'POST', body: JSON.stringify(report), keepalive: true })
      .then((response) => {
        // Nothing of this reading is wanted: it was forgotten, or the file is gone, or not shared any more.
        if (response.status === 404 || response.status === 410) this.isOver = true;
        if (!response.ok) throw new Error(String(response.status));
        this.failures = 0;
        this.hasReportedActing ||= report.active;
        for (const { visit, ms } of report.visits) this.arrived.set(visit, ms);
      })
      .catch(() => (this.failures += 1))
      .finally(() => (this.isUnderway = false));
  }

  /** The window may be gone the next moment: left to the browser, which sends it all the same. */
  private reportAtLast(): void {
    if (!this.clock || this.isOver) return;
    this.clock = advance(this.clock, performance.now(), { kind: 'tick' }, this.medium);
    const report = this.unreported();
    if (report.visits.length > 0) navigator.sendBeacon(this.report!.url, JSON.stringify(report));
  }
}

function isVisible(): boolean {
  return document.visibilityState === 'visible';
}
