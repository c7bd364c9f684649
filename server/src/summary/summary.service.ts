import { Injectable } from '@nestjs/common';
import type { MessageSummary, SummaryView } from '@kiraku/core/contract';
import { filterOf } from '@kiraku/core/sent';
import { isInSummary } from '@kiraku/core/sentences';
import { MAX_SUMMARY_LINES, SUMMARY_REPORT_VIEW, summaryOf } from '@kiraku/core/summary';
import { dayStart, WEEK } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupViews } from '../following/followupViews.js';
import { SummariesRepository } from '../messages/summaries.repository.js';
import { ReportsService } from '../reports/reports.service.js';
import { TodayService } from '../today/today.service.js';
import { EventsRepository } from '../tracking/events.repository.js';
import { SummaryRepository } from './summary.repository.js';

/** Says what the user should know. */
@Injectable()
export class SummaryService {
  constructor(
    private readonly today: TodayService,
    private readonly followups: FollowupViews,
    private readonly repository: SummaryRepository,
    private readonly summaries: SummariesRepository,
    private readonly events: EventsRepository,
    private readonly reports: ReportsService,
    private readonly clock: Clock,
  ) {}

  /**
   * @param since what happened from then on is new; null for the last week
   * @param zone IANA name of the user’s zone
   */
  async view(since: number | null, zone: string): Promise<SummaryView> {
    const now = this.clock.now();
    const from = since ?? now - WEEK;
    const endOfDay = dayStart(now, zone, 1);
    const ids = this.repository.activeSince(from, MAX_SUMMARY_LINES);
    const filter = filterOf(SUMMARY_REPORT_VIEW, now, zone);
    return summaryOf({
      from,
      to: now,
      zone,
      today: this.today.view(),
      reminders: this.followups.open().reminders.filter(({ dueAt }) => dueAt < endOfDay),
      active: this.summaries.of(ids).map((message) => ({ message, events: this.eventsOf(message, from) })),
      activeTotal: this.repository.countActiveSince(from),
      report: await this.reports.report(filter),
    });
  }

  private eventsOf({ id }: MessageSummary, from: number) {
    const events = [...this.events.counted([id]).values()].flat();
    return events.filter((event) => event.at >= from && isInSummary(event));
  }
}
