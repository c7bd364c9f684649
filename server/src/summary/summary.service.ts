import { Injectable } from '@nestjs/common';
import type { SummaryView } from '@kiraku/core/contract';
import { filterOf } from '@kiraku/core/sent';
import { SUMMARY_REPORT_VIEW, summaryOf } from '@kiraku/core/summary';
import { dayStart, WEEK } from '@kiraku/core/time';
import { Clock } from '../environment/clock.js';
import { FollowupViews } from '../following/followupViews.js';
import { ReportsService } from '../reports/reports.service.js';
import { RoundsRepository } from '../rounds/rounds.repository.js';
import { TodayService } from '../today/today.service.js';
import { SummaryActivity } from './summaryActivity.js';

/** Says what the user should know. */
@Injectable()
export class SummaryService {
  constructor(
    private readonly today: TodayService,
    private readonly followups: FollowupViews,
    private readonly activity: SummaryActivity,
    private readonly rounds: RoundsRepository,
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
    const filter = filterOf(SUMMARY_REPORT_VIEW, now, zone);
    return summaryOf({
      from,
      to: now,
      zone,
      today: this.today.view(),
      reminders: this.followups.open().reminders.filter(({ dueAt }) => dueAt < endOfDay),
      ...this.activity.since(from),
      rounds: this.rounds.underWay(),
      report: await this.reports.report(filter),
    });
  }
}
