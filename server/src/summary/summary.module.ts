import { Module } from '@nestjs/common';
import { FollowingModule } from '../following/following.module.js';
import { MessagesModule } from '../messages/messages.module.js';
import { NotificationsModule } from '../notifications/notifications.module.js';
import { ReportsModule } from '../reports/reports.module.js';
import { RoundsModule } from '../rounds/rounds.module.js';
import { SettingsModule } from '../settings/settings.module.js';
import { TodayModule } from '../today/today.module.js';
import { TrackingModule } from '../tracking/tracking.module.js';
import { SummaryActivity } from './summaryActivity.js';
import { SummaryController } from './summary.controller.js';
import { SummaryMail } from './summaryMail.js';
import { SummaryRepository } from './summary.repository.js';
import { SummaryService } from './summary.service.js';
import { SummarySettings } from './summary.settings.js';

@Module({
  imports: [
    FollowingModule,
    MessagesModule,
    NotificationsModule,
    ReportsModule,
    RoundsModule,
    SettingsModule,
    TodayModule,
    TrackingModule,
  ],
  controllers: [SummaryController],
  providers: [SummaryActivity, SummaryMail, SummaryRepository, SummaryService, SummarySettings],
})
export class SummaryModule {}
